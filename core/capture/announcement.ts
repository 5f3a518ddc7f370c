import type { Announcement, Case } from '#core/capture/case'
import { nameOf } from '#core/leads/lead'
import { answerText } from '#core/points/definition'
import { oneLine } from '#core/text'

/**
 * What an owner is told of an entry, whose answers stand beneath it (`answersInWords`). The subject
 * tells one prospect from the next: who it is, from where, and what they want.
 */
export function announcementFor(now: Case): Announcement {
  const { lead, intake, known } = now
  const who = oneLine(nameOf(lead), 60)
  const company = lead.company ? `, ${oneLine(lead.company, 40)}` : ''
  const subject = `${who}${company}: ${oneLine(wish(now), 80)}`
  const opening = known ? `${who} came back` : `${who} is new`
  const result = resultOf(intake)
  return {
    to: lead.ownerId!,
    subject,
    text: `${opening} through “${intake.point.name}”${result && ` and came to “${result}”`}.`,
  }
}

/** The title of what somebody came to in a quiz; '' of a form. */
function resultOf({ judged, edition: { definition } }: Case['intake']): string {
  return (judged && definition.quiz?.results.find(r => r.key === judged.result)?.title) ?? ''
}

/** What they want, in their own words where there are some: the result of a quiz, the first choice made, else the message, else the form. */
function wish({ intake }: Case): string {
  const { questions } = intake.edition.definition
  const choice = questions.find(q => q.kind === 'one_of' && !q.hidden && intake.answers[q.key] !== undefined)
  const message = questions.find(q => q.kind === 'long_text' && intake.answers[q.key])
  const said =
    resultOf(intake) ||
    (choice ? answerText(choice, intake.answers[choice.key]!) : message && answerText(message, intake.answers[message.key]!))
  return said ? `${intake.point.name} (${oneLine(said, 40)})` : intake.point.name
}

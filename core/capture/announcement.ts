import type { Announcement, Case } from '#core/capture/case'
import { judge } from '#core/conditions/judge'
import { subjectOf } from '#core/leads/about'
import { aboutStep, type Book, type Rules, type Tools } from '#core/leads/book'
import { nameOf } from '#core/leads/lead'
import { answerText } from '#core/points/definition'
import { attributesForMails, fillIn } from '#core/points/mails'
import { answerAttributes } from '#core/points/shown'
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
  return {
    to: lead.ownerId!,
    subject,
    text: `${opening} through “${intake.point.name}”.`,
  }
}

/** What colleagues beside the owner are told, each once, where the condition holds. Those who do not work here any more are left out. */
export function notifiedFor(rules: Rules, tools: Tools, book: Book, now: Case): Case['notified'] {
  const { tell } = now.intake.edition.definition.afterwards
  if (!tell.length) return []
  const subject = subjectOf(aboutStep(rules, book, now))
  const told = new Set(now.lead.ownerId ? [now.lead.ownerId] : [])
  const words = attributesForMails(now)
  const answered = answerAttributes(now.intake.answers)
  return tell.filter(t => !t.when || judge(rules.whole(t.when), { ...subject, attribute: name => name.startsWith('answer.') ? answered(name) : subject.attribute(name) }).holds).flatMap(t => t.members.flatMap((to) => {
    if (told.has(to) || !rules.members.has(to)) return []
    told.add(to)
    const own = announcementFor(now)
    return [{ ...own, id: tools.newId(now.intake.at), to, subject: oneLine(fillIn(t.subject, words), 180) || own.subject, text: fillIn(t.text, words) || own.text }]
  }))
}

/** What they want, in their own words where there are some: the first choice made, else the message, else the form. */
function wish({ intake }: Case): string {
  const { questions } = intake.edition.definition
  const choice = questions.find(q => q.kind === 'one_of' && !q.hidden && intake.answers[q.key] !== undefined)
  const message = questions.find(q => q.kind === 'long_text' && intake.answers[q.key])
  const said = choice ? answerText(choice, intake.answers[choice.key]!) : message && answerText(message, intake.answers[message.key]!)
  return said ? `${intake.point.name} (${oneLine(said, 40)})` : intake.point.name
}

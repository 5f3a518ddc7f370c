import Mustache from 'mustache'
import type { Case } from '#core/capture/case'
import { nameOf } from '#core/leads'
import { answerText, type PointDefinition } from '#core/points/definition'
import type { Confirmed } from '#core/points/next'

/** A mail to whoever completes an entry, so many days later; 0 is at once. Texts may have placeholders. */
export interface Letter {
  key: string; subject: string; text: string; days: number
  /** Where `{{link}}` leads; we see that it was followed. */
  goal: Goal | null
  /** Only to those who followed the link of no mail that came to them before through the same entry. */
  unlessFollowed: boolean
}
/** Where the link of a mail leads: an address, or a file of ours. */
export type Goal = Exclude<Confirmed, { kind: 'message' }>
/** Asks people to show that the address is theirs: a mail with a link. Until it is used they get nothing else. */
export interface Confirmation { subject: string; text: string; /** What they read once they have confirmed. */ done: string; /** What comes with it, or in its stead. */ then: Confirmed }

/** A letter written for somebody, still to be sent. `due` in ms since 1970; null while the address is not confirmed. */
export interface Written { id: string; kind: 'confirm' | 'letter'; subject: string; text: string; days: number; due: number | null; goal: Goal | null; unlessFollowed: boolean }

const DAY = 86_400_000

/** What placeholders stand for: `{{lead.first_name}}`, `{{answer.size}}`, `{{point.title}}`, `{{link}}`, and the signed addresses to come `{{again}}`, known, or to `{{correct}}` the entry. */
export interface Facts { lead: Record<string, string>; answer: Record<string, string>; point: Record<string, string>; link: string; again: string; correct: string }

/** Fills placeholders in (Mustache). Unknown ones become nothing; nothing is escaped, for the result is text. @throws when the text is no template */
export const fillIn = (template: string, facts: Facts): string => Mustache.render(template, facts, {}, { escape: text => String(text) })

/** The names of the placeholders in a text; null when it is no template. */
export function placeholdersIn(template: string): string[] | null {
  try {
    const names = (tokens: unknown[]): string[] => (tokens as [string, string, number, number, unknown[]?][]).flatMap(([type, name, , , inner]) => type === 'text' || type === '!' ? [] : [name, ...names(inner ?? [])])
    return names(Mustache.parse(template))
  } catch {
    return null
  }
}

/** What a template may name; `link` only where there is one to follow, `again` and `correct` only in mails to visitors. */
export function knownPlaceholders(d: Pick<PointDefinition, 'questions'>, kind: 'confirm' | 'reminder' | 'letter' | 'letter with goal' | 'inside'): string[] {
  return ['lead.first_name', 'lead.last_name', 'lead.name', 'lead.company', 'lead.email', 'point.name', 'point.title', ...(kind === 'confirm' || kind === 'reminder' || kind === 'letter with goal' ? ['link'] : []), ...(kind.startsWith('letter') ? ['again', 'correct'] : []), ...d.questions.map(q => `answer.${q.key}`)]
}

/** What placeholders stand for in what is written about an entry. */
export function factsForLetters({ intake, lead }: Pick<Case, 'intake' | 'lead'>, links: Partial<Pick<Facts, 'link' | 'again' | 'correct'>> = {}): Facts {
  const { questions, title } = intake.edition.definition
  return {
    lead: { email: lead.email ?? '', first_name: lead.firstName ?? '', last_name: lead.lastName ?? '', name: nameOf(lead), company: lead.company ?? '' },
    answer: Object.fromEntries(questions.flatMap(q => intake.answers[q.key] === undefined ? [] : [[q.key, answerText(q, intake.answers[q.key]!)]])),
    point: { name: intake.point.name, title }, link: '', again: '', correct: '', ...links,
  }
}

/** Gives the signed addresses that stand in letters: to confirm with, to follow a letter's link, to correct an entry; and to come to a form and be known. */
export interface Sign { act: (act: 'confirm' | 'follow' | 'correct', id: string) => string; again: (slug: string, lead: string) => string }

/**
 * The letters that follow an entry. Who has left gets only what answers the entry at once;
 * who has not confirmed yet gets only the request to do so, and the rest waits.
 * @param sign the signed addresses that stand in letters
 */
export function lettersFor(now: Case, newId: (at: number) => string, sign: Sign): Written[] {
  const { intake, lead } = now
  const { letters, confirm } = intake.edition.definition
  if (lead.email === null) return []
  const waits = confirm !== null && lead.confirmedAt === null
  const write = (kind: Written['kind'], text: { subject: string; text: string }, days: number, due: number | null, goal: Goal | null = null, unlessFollowed = false): Written => {
    const id = newId(intake.at)
    const facts = factsForLetters(now, {
      link: kind === 'confirm' ? sign.act('confirm', id) : goal ? sign.act('follow', id) : '', again: sign.again(intake.point.slug, lead.id), correct: sign.act('correct', intake.entryId),
    })
    return { id, kind, subject: fillIn(text.subject, facts).replace(/\s+/g, ' ').trim().slice(0, 300), text: fillIn(text.text, facts), days, due, goal, unlessFollowed }
  }
  return [
    ...(waits ? [write('confirm', confirm, 0, intake.at)] : []),
    ...letters.filter(l => l.days === 0 || lead.leftAt === null).map(l => write('letter', l, l.days, waits ? null : intake.at + l.days * DAY, l.goal, l.unlessFollowed)),
  ]
}

import Mustache from 'mustache'
import { mailsOf } from '#core/actions/edit'
import type { SendMail } from '#core/actions/kinds/mail/shape'
import type { Case } from '#core/capture/case'
import { nameOf } from '#core/leads/lead'
import { answerText, type PointDefinition } from '#core/points/definition'
import type { Sign, Written } from '#core/points/written'
import { cut, hasAddress, oneLine, unlinked } from '#core/text'

export type Mail = SendMail
export type { Confirmation } from '#core/points/shapes/rules'
export type { Goal } from '#core/points/shapes/next'

const DAY = 86_400_000

/** What placeholders stand for: `{{lead.first_name}}`, `{{answer.size}}`, `{{point.title}}`, `{{link}}`, and the signed addresses to come `{{again}}`, known, or to `{{correct}}` the entry. */
export interface Attributes {
  lead: Record<string, string>; answer: Record<string, string>; point: Record<string, string>; link: string; again: string; correct: string
}

/** Fills placeholders in (Mustache). Unknown ones become nothing; nothing is escaped, for the result is text. @throws when the text is no template */
export const fillIn = (template: string, attributes: Attributes): string => Mustache.render(template, attributes, {}, { escape: text => String(text) })

/** What somebody typed takes up so much of a mail in the firm's name, and of its subject. */
const MOST = { name: 60, answer: 600, subject: 80 }

/** Attributes with what was typed cut short and with nothing in it that mail programs turn into a link; our own addresses stay whole. */
function typedShort(attributes: Attributes, change: (typed: string, most: number) => string): Attributes {
  const all = (texts: Record<string, string>, most: number) => Object.fromEntries(Object.entries(texts).map(([key, text]) => [key, change(text, most)]))
  const { email, ...lead } = attributes.lead
  return { ...attributes, lead: { ...all(lead, MOST.name), email: email ?? '' }, answer: all(attributes.answer, MOST.answer) }
}

/** Fills a mail to a visitor. @throws as `fillIn` */
export const fillText = (template: string, attributes: Attributes): string => fillIn(template, typedShort(attributes, (typed, most) => unlinked(cut(typed, most))))

/** Fills the subject of a mail to a visitor, in one line: of what was typed at most 80 letters, and nothing with an address in it. @throws as `fillIn` */
export const fillSubject = (template: string, attributes: Attributes): string =>
  oneLine(fillIn(template, typedShort({ ...attributes, lead: { ...attributes.lead, email: '' } }, (typed, most) => hasAddress(typed) ? '' : cut(oneLine(typed, 1000), Math.min(most, MOST.subject)))), 300)

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
export function knownPlaceholders(d: Pick<PointDefinition, 'questions'>, kind: 'confirm' | 'reminder' | 'mail' | 'mail with goal' | 'inside'): string[] {
  return ['lead.first_name', 'lead.last_name', 'lead.name', 'lead.company', 'lead.email', 'point.name', 'point.title', ...(kind === 'confirm' || kind === 'reminder' || kind === 'mail with goal' ? ['link'] : []), ...(kind.startsWith('mail') ? ['again', 'correct'] : []), ...d.questions.map(q => `answer.${q.key}`)]
}

/** What placeholders stand for in what is written about an entry. */
export function attributesForMails({ intake, lead }: Pick<Case, 'intake' | 'lead'>, links: Partial<Pick<Attributes, 'link' | 'again' | 'correct'>> = {}): Attributes {
  return attributesOf(intake, { email: lead.email ?? '', first_name: lead.firstName ?? '', last_name: lead.lastName ?? '', name: nameOf(lead), company: lead.company ?? '' }, links)
}

/** The same for whoever may not be who they say: of the person only what this very entry said. */
function attributesOfEntry({ intake }: Pick<Case, 'intake'>, recipient: string, links: Partial<Pick<Attributes, 'link' | 'again' | 'correct'>>): Attributes {
  const said = (property: string) => [intake.values[intake.edition.definition.questions.find(q => q.property === property)?.key ?? ''] ?? ''].flat().join(', ')
  const [first, last] = [said('first_name'), said('last_name')]
  return attributesOf(intake, { email: recipient, first_name: first, last_name: last, name: [first, last].filter(Boolean).join(' '), company: said('company') }, links)
}

function attributesOf(intake: Case['intake'], lead: Attributes['lead'], links: Partial<Pick<Attributes, 'link' | 'again' | 'correct'>>): Attributes {
  const { questions, title } = intake.edition.definition
  return {
    lead, answer: Object.fromEntries(questions.flatMap(q => intake.answers[q.key] === undefined ? [] : [[q.key, answerText(q, intake.answers[q.key]!)]])),
    point: { name: intake.point.name, title }, link: '', again: '', correct: '', ...links,
  }
}

/** What a claimed address gets, and nothing else: the one question whether it is theirs, which names it. Nothing of it was typed by anybody but the address. */
const CLAIM = {
  subject: 'Is this address yours?',
  text: 'Somebody sent us “{{point.title}}” and gave {{lead.email}} as their e-mail address.\n\nWas it you? Then confirm that the address is yours, and what we have for you follows:\n\n{{link}}\n\nWas it not you? Then do nothing: you get no other mail from us.',
}

/** Whether what follows an entry waits until an address is confirmed. */
const waits = ({ intake, lead, claim }: Case): boolean => claim !== null || (intake.edition.definition.confirm !== null && lead.confirmedAt === null)

/**
 * The request to confirm the address of an entry, where it is asked for; until then the mails of the entry wait. So it is with
 * an address that is only claimed.
 * @param sign the signed addresses that stand in mails
 */
export function writeConfirmation(now: Case, newId: (at: number) => string, sign: Sign): Written | null {
  const { intake, lead, claim, recipient } = now
  const { confirm } = intake.edition.definition
  if (recipient === null) return null
  const ask = claim ? !claim.wasAsked && (confirm || mailsOf(intake.edition.definition).length) ? CLAIM : null : lead.confirmedAt === null ? confirm : null
  return ask && write(now, recipient, 'confirm', { ...ask, days: 0, goal: null, unlessClicked: false }, intake.at, newId, sign)
}

/** A mail that follows an entry, to whom it goes being settled now; null for who has left, and did not ask for it with this entry. */
export function writeMail(now: Case, mail: Mail, newId: (at: number) => string, sign: Sign): Written | null {
  const { intake, lead, recipient } = now
  if (recipient === null || (mail.days > 0 && lead.unsubscribedAt !== null)) return null
  return write(now, recipient, 'mail', mail, waits(now) ? null : intake.at + mail.days * DAY, newId, sign)
}

function write(now: Case, recipient: string, kind: Written['kind'], mail: Pick<Mail, 'subject' | 'text' | 'days' | 'goal' | 'unlessClicked'>, due: number | null, newId: (at: number) => string, sign: Sign): Written {
  const { intake, lead, claim } = now
  const { subject, text, days, goal, unlessClicked } = mail
  const { name, reply } = intake.edition.definition.mailing
  const id = newId(intake.at)
  const guarded = claim !== null || lead.guardedAt !== null
  const links = {
    link: kind === 'confirm' ? sign.act('confirm', id) : goal ? sign.act('follow', id) : '', again: sign.again(intake.point.slug, guarded ? null : lead.id), correct: sign.act('correct', intake.entryId),
  }
  const attributes = guarded ? attributesOfEntry(now, recipient, links) : attributesForMails(now, links)
  return { id, kind, recipient, claim: claim?.id ?? null, subject: fillSubject(subject, attributes).slice(0, 300), text: fillText(text, attributes), days, due, goal, unlessClicked, from: { name, reply } }
}

/** What is wrong with a text to visitors: no subject, or placeholders that stand for nothing. @param kind what it is decides what it may name */
export function textFlaws(d: PointDefinition, { name, kind, text }: { name: string; kind: Parameters<typeof knownPlaceholders>[1]; text: { subject: string; text: string } }) {
  const found: { field: string; message: string; mend?: { name: string; apply: (definition: PointDefinition) => PointDefinition } }[] = []
  if (!text.subject.trim()) found.push({ field: 'subject', message: `${name} has no subject.` })
  if (!text.text.trim()) found.push({ field: 'text', message: `${name} has no text.` })
  const used = placeholdersIn(`${text.subject}\n${text.text}`)
  const strange = used?.find(p => !knownPlaceholders(d, kind).includes(p))
  if (used === null) found.push({ field: 'text', message: `${name} has a placeholder that is not closed. It should look like {{lead.first_name}}.` })
  else if (used.includes('correct') && !d.returns.correct) {
    const mend = { name: 'Let them be corrected', apply: (o: PointDefinition) => ({ ...o, returns: { ...o.returns, correct: true } }) }
    found.push({ field: 'text', message: `${name} has a link to {{correct}} an entry, and entries may not be corrected.`, mend })
  } else if (strange !== undefined) found.push({ field: 'text', message: `${name} names {{${strange}}}, which does not exist.` })
  else if (kind === 'confirm' && !used.includes('link')) {
    const mend = { name: 'Add the link', apply: (o: PointDefinition) => ({ ...o, confirm: o.confirm && { ...o.confirm, text: `${o.confirm.text.trimEnd()}\n\n{{link}}` } }) }
    found.push({ field: 'text', message: 'The request to confirm has no {{link}}: nobody could confirm.', mend })
  }
  return found
}

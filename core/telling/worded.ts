import { IsString, Matches, MaxLength } from 'class-validator'
import type { Place } from '#core/points/mails'
import { fillIn, placeholdersIn } from '#core/points/mails'
import type { Told } from '#core/telling/telling'

/** How members are told something: a subject and a text with placeholders, instead of the usual ones. */
export class NoticeText {
  @IsString() @MaxLength(200) @Matches(/^[^\r\n]*\S[^\r\n]*$/, { message: 'Say what it is about, in one line' }) subject!: string
  @IsString() @MaxLength(4000) @Matches(/\S/, { message: 'The text is empty. Write something' }) text!: string
}
export type NoticeTexts = Partial<Record<Told, NoticeText>>

/** What such a text may name. */
const NAMES: Record<string, { label: string; group: string }> = {
  'usual.subject': { label: 'The usual subject', group: 'What happened' },
  'usual.text': { label: 'The usual text', group: 'What happened' },
  deadline: { label: 'By when they are promised an answer', group: 'What happened' },
  'lead.name': { label: 'Name', group: 'The person' },
  'lead.first_name': { label: 'First name', group: 'The person' },
  'lead.company': { label: 'Company', group: 'The person' },
  'lead.label': { label: 'Label', group: 'The person' },
  'lead.status': { label: 'Status', group: 'The person' },
  'owner.name': { label: 'Who answers for them', group: 'Us' },
  'member.name': { label: 'Who is told', group: 'Us' },
}
export const PLACES_OF_NOTICES: Place[] = Object.entries(NAMES).map(([name, place]) => ({ name, ...place, isLink: false }))

/** What is wrong with the placeholders of such a text; null where nothing is. */
export function flawInNotice(template: string): string | null {
  const used = placeholdersIn(template)
  if (!used) return 'A placeholder is not closed: two braces open it, and two close it.'
  const strange = used.map(name => name.replace(/^[#^/]/, '')).find(name => !Object.hasOwn(NAMES, name))
  return strange === undefined ? null : `The placeholder “${strange}” stands for nothing. Put placeholders in from the menu.`
}

/** What is known where something is told. */
export interface NoticeFacts {
  subject: string
  text: string
  /** In words; empty: nobody waits. */
  deadline: string
  lead: { name: string; first_name: string; company: string; label: string; status: string }
  owner: string
  member: string
}
/** Topics by which somebody waits: the usual text says until when. */
const WAITING: readonly Told[] = ['given', 'waits', 'answer']

/** A notice as its reader reads it: in the house's words where it has some, else the usual ones with the deadline. */
export function worded(texts: NoticeTexts, topic: Told, facts: NoticeFacts): { subject: string; text: string } {
  const { subject, text, deadline, lead, owner, member } = facts
  const usual = {
    subject,
    text: deadline && WAITING.includes(topic) ? `${text}${text ? ' ' : ''}They are promised an answer by ${deadline}.` : text,
  }
  const own = texts[topic]
  if (!own) return usual
  const attributes = { usual, deadline, lead, owner: { name: owner }, member: { name: member } } as never
  try {
    return {
      subject: fillIn(own.subject, attributes).replace(/\s+/g, ' ').trim().slice(0, 300) || usual.subject,
      text: fillIn(own.text, attributes).slice(0, 6000),
    }
  } catch {
    return usual
  }
}

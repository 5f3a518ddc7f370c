import { parseEmail } from '#core/identity/email'
import { mayKeep, type Answers, type Question } from '#core/points/definition'
import { readValue, type Reading } from '#core/points/values'
import type { Property, PropertyValue } from '#core/properties/kinds'

/** What was typed and not sent, as it may be kept. */
export interface Typed {
  answers: Answers
  /** An address that was typed whole, wherever it stands. Not `sure` where something else was asked: it may be somebody else's. */
  email: { address: string; key: string; sure: boolean } | null
  /** What it says about the person, by property. */
  values: Record<string, PropertyValue>
}

const MOST_KEYS = 60
const MOST_LENGTH = 2000

/** Texts by key out of an untrusted value, bounded. */
export function readTyped(raw: unknown): Answers {
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw)) return {}
  const read: Answers = {}
  for (const [key, value] of Object.entries(raw).slice(0, MOST_KEYS)) {
    if (!/^[\p{L}\p{N}_. -]{1,60}$/u.test(key) || key === '__proto__') continue
    const texts = [value]
      .flat()
      .filter((v): v is string => typeof v === 'string')
      .slice(0, 50)
      .map(v => v.slice(0, MOST_LENGTH))
    if (texts.some(t => t.trim()) && !texts.some(isCard)) read[key] = Array.isArray(value) ? texts : texts[0]!
  }
  return read
}

/** The number of a payment card (ISO/IEC 7812, Luhn's check digit). */
function isCard(text: string): boolean {
  const digits = text.replace(/[ -]/g, '')
  if (!/^\d{13,19}$/.test(digits)) return false
  const sum = [...digits].reverse().reduce((n, d, i) => n + (i % 2 ? [0, 2, 4, 6, 8, 1, 3, 5, 7, 9][Number(d)]! : Number(d)), 0)
  return sum % 10 === 0
}

/** What was typed into a point of ours. @param settled the questions that were left: what is still being typed is no address yet */
export function typedInto(questions: Question[], raw: Answers, settled: string[], properties: Property[], reading: Reading): Typed {
  const kept = questions.filter(q => raw[q.key] !== undefined && mayKeep(q, properties))
  const answers = Object.fromEntries(kept.map(q => [q.key, raw[q.key]!]))
  const values: Typed['values'] = {}
  for (const q of kept) {
    if (!q.property || q.property === 'email' || q.kind === 'consent') continue
    const read = readValue({ ...q, limits: undefined } as never, answers[q.key]!, reading)
    if ('value' in read && !addressIn(read.value)) values[q.property] = read.value
  }
  const left = kept.filter(q => settled.includes(q.key) && q.kind !== 'consent')
  const asked = left.filter(q => q.property === 'email' || q.kind === 'email')
  const texts = (some: Question[]) => some.map(q => answers[q.key]!)
  return { answers, values, email: findAddress(texts(asked), true) ?? findAddress(texts(left), false) }
}

/**
 * What was typed into marked fields of the site's own: by the property that the mark names, or by the field's own name.
 * A mark that names something private is a mistake, and nothing of it is kept.
 */
export function typedOnSite(raw: Answers, settled: string[], properties: Property[], reading: Reading): Typed {
  const answers: Answers = {}
  const values: Typed['values'] = {}
  for (const [key, text] of Object.entries(raw)) {
    const property = properties.find(p => p.key === key && !p.retired)
    if (property && (property.sensitivity !== 'ordinary' || property.kind === 'file')) continue
    answers[key] = text
    if (!property || key === 'email') continue
    const read = readValue(property as never, text, reading)
    if ('value' in read && !addressIn(read.value)) values[key] = read.value
  }
  const left = Object.keys(answers).filter(k => settled.includes(k))
  const texts = (keys: string[]) => keys.map(k => answers[k]!)
  return { answers, values, email: findAddress(texts(left.filter(k => /mail/i.test(k))), true) ?? findAddress(texts(left), false) }
}

const addressIn = (value: PropertyValue) => findAddress([value], false) !== null
/** The first whole e-mail address in some texts, alone or among other words. */
function findAddress(texts: (string | string[])[], sure: boolean): Typed['email'] {
  for (const text of texts.flat()) {
    for (const word of text.split(/[\s,;<>()"']+/)) {
      const email = word.includes('@') ? parseEmail(word.replace(/^mailto:/i, '').replace(/[.:!?]+$/, '')) : null
      if (email) return { address: email.address, key: email.key, sure }
    }
  }
  return null
}

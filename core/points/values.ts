import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/min'
import { parseEmail } from '#core/identity/email'
import type { PublicQuestion } from '#core/points/definition'
import { isCountry } from '#core/properties/countries'
import type { PropertyValue } from '#core/properties/kinds'

/** How a house reads what people write their own way. */
export interface Reading {
  /** Whose national writing of phone numbers is understood: ISO 3166-1, two letters. */
  country: string
  /** Digits behind the point of the house's money: 2 for cents. */
  cents: number
}
export const PLAIN_READING: Reading = { country: 'FR', cents: 2 }

export type Read = { value: PropertyValue } | { flaw: string }

/**
 * Reads one answer that was given, by the kind of its question.
 * @param typed a text, or the texts of a some-of question
 * @returns the value as a property keeps it, or a sentence that says what to do
 */
export function readValue(q: Pick<PublicQuestion, 'kind' | 'choices' | 'limits'>, typed: string | string[], reading: Reading): Read {
  if (q.kind === 'some_of') return readSome(q, [typed].flat())
  if (typeof typed !== 'string') return { flaw: 'Only one answer fits here.' }
  const text = typed.trim()
  switch (q.kind) {
    case 'email': {
      const email = parseEmail(text)
      return email ? { value: email.address } : { flaw: 'This is not a complete e-mail address. It should look like name@firm.example.' }
    }
    case 'phone': {
      const phone = parsePhoneNumberFromString(text, reading.country as CountryCode)
      return phone?.isPossible() ? { value: phone.number } : { flaw: 'This is not a whole phone number. Write it as you dial it, or with + and the country’s number.' }
    }
    case 'number': return withinNumbers(q, readNumber(text), String, 'This is not a number. Write it in digits, like 12 or 12.5.')
    case 'money': return withinNumbers(q, readNumber(text.replace(/^\p{Sc}|\p{Sc}$/gu, '').replace(/^[A-Z]{3}|[A-Z]{3}$/g, '').trim()), n => String(Math.round(n * 10 ** reading.cents)), 'This is not an amount. Write it in digits, like 4500 or 4,500.50.')
    case 'date': return readDate(q, text)
    case 'one_of': return q.choices!.some(c => c.value === typed) ? { value: typed } : { flaw: 'Choose one of the answers offered.' }
    case 'yes_no': return typed === 'yes' || typed === 'no' ? { value: typed } : { flaw: 'Answer yes or no.' }
    case 'country': return isCountry(text.toUpperCase()) ? { value: text.toUpperCase() } : { flaw: 'Choose a country from the list.' }
    case 'url': return readUrl(text)
    case 'consent': return typed === 'yes' || typed === 'on' ? { value: 'yes' } : { flaw: 'Tick the box, or leave it.' }
    default: return withinLength(q, typed)
  }
}

function withinLength(q: Pick<PublicQuestion, 'limits'>, typed: string): Read {
  const length = [...typed.trim()].length
  const { least, most } = q.limits ?? { least: null, most: null }
  if (least !== null && length < Number(least)) return { flaw: `Write at least ${least} characters; so far there are ${length}.` }
  if (most !== null && length > Number(most)) return { flaw: `At most ${most} characters fit here; there are ${length}.` }
  return { value: typed }
}

/**
 * A number in digits, as people group them: `12 500`, `12,500.5`, `12.500,5`, `12’500`.
 * A single point or comma before exactly three digits groups thousands, like `1,500`; otherwise it is the decimal point.
 */
export function readNumber(text: string): number | null {
  const bare = text.replace(/[\s\u00A0\u202F'’_]/g, '').replace(/^\u2212/, '-')
  if (!/^[+-]?[\d.,]*\d[\d.,]*$/.test(bare) || bare.length > 24) return null
  const marks = bare.match(/[.,]/g) ?? []
  const last = Math.max(bare.lastIndexOf('.'), bare.lastIndexOf(','))
  const after = bare.length - last - 1
  const kinds = new Set(marks).size
  const once = marks.filter(m => m === bare[last]).length === 1
  const decimal = last >= 0 && once && (kinds === 2 || after !== 3 || /^[+-]?0[.,]/.test(bare))
  const whole = (decimal ? bare.slice(0, last) : bare)
  // Groups have three digits each, or it is no number but a date, a version, a phone.
  if (/[.,]/.test(whole) && !/^[+-]?\d{1,3}([.,]\d{3})+$/.test(whole)) return null
  const number = Number(whole.replace(/[.,]/g, '') + (decimal ? `.${bare.slice(last + 1)}` : ''))
  return Number.isFinite(number) ? number : null
}

function withinNumbers(q: Pick<PublicQuestion, 'limits'>, number: number | null, keep: (n: number) => string, otherwise: string): Read {
  if (number === null) return { flaw: otherwise }
  if (Math.abs(number) > 1e12) return { flaw: 'This number is too large.' }
  const { least, most } = q.limits ?? { least: null, most: null }
  if (least !== null && number < Number(least)) return { flaw: `The least that fits here is ${least}.` }
  if (most !== null && number > Number(most)) return { flaw: `The most that fits here is ${most}.` }
  return { value: keep(number) }
}

function readDate(q: Pick<PublicQuestion, 'limits'>, text: string): Read {
  // 2026-04-18 as browsers send it; 18.4.2026 and 18/04/2026 as people type it.
  const iso = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text)
  const typed = /^(\d{1,2})[./](\d{1,2})[./](\d{4})$/.exec(text)
  const parts = iso ? [iso[1], iso[2], iso[3]] : typed ? [typed[3], typed[2], typed[1]] : null
  if (!parts) return { flaw: 'This is not a date. Write it as day.month.year, like 18.4.2026.' }
  const [year, month, day] = parts.map(Number) as [number, number, number]
  const date = new Date(Date.UTC(year, month - 1, day))
  if (year < 1000 || date.getUTCMonth() !== month - 1 || date.getUTCDate() !== day) return { flaw: 'There is no such day in the calendar.' }
  const value = date.toISOString().slice(0, 10)
  const { least, most } = q.limits ?? { least: null, most: null }
  if (least !== null && value < String(least)) return { flaw: `The first day that fits here is ${least}.` }
  if (most !== null && value > String(most)) return { flaw: `The last day that fits here is ${most}.` }
  return { value }
}

/** A web address, with or without its scheme. Only http and https, and a host with a dot. */
function readUrl(text: string): Read {
  const flaw = { flaw: 'This is not a web address. It should look like firm.example or https://firm.example/page.' }
  if (/\s/.test(text) || text.length > 2000) return flaw
  try {
    const url = new URL(/^[a-z][a-z0-9+.-]*:/i.test(text) && !/^[^/]+:\d/.test(text) ? text : `https://${text}`)
    if (!['http:', 'https:'].includes(url.protocol) || url.username || !url.hostname.includes('.')) return flaw
    return { value: url.href }
  } catch {
    return flaw
  }
}

function readSome(q: Pick<PublicQuestion, 'choices' | 'limits'>, typed: string[]): Read {
  const values = [...new Set(typed)]
  if (values.some(v => !q.choices!.some(c => c.value === v))) return { flaw: 'Choose from the answers offered.' }
  const { least, most } = q.limits ?? { least: null, most: null }
  if (least !== null && values.length < Number(least)) return { flaw: `Choose at least ${least}.` }
  if (most !== null && values.length > Number(most)) return { flaw: `Choose at most ${most}.` }
  // In the order in which they are offered, whatever the order of the clicks.
  return { value: q.choices!.map(c => c.value).filter(v => values.includes(v)) }
}

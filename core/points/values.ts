import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/min'
import { parseEmail } from '#core/identity/email'
import type { PublicQuestion } from '#core/points/definition'
import { sayIn, type Say, type TextKey } from '#core/languages/say'
import { isCountry } from '#core/properties/countries'
import type { PropertyValue } from '#core/properties/kinds'

/** How a house reads what people write their own way. */
export interface Reading {
  /** Whose national writing of phone numbers is understood: ISO 3166-1, two letters. */
  country: string
  /** Digits behind the point of the house's money: 2 for cents. */
  cents: number
  /** Says what is wrong, in the language of whoever is asked. */
  say: Say
}
export const PLAIN_READING: Reading = { country: 'FR', cents: 2, say: sayIn('en') }

export type Read = { value: PropertyValue } | { flaw: string }

/**
 * Reads one answer that was given, by the kind of its question.
 * @param typed a text, or the texts of a some-of question
 * @returns the value as a property keeps it, or a sentence that says what to do
 */
export function readValue(q: Pick<PublicQuestion, 'kind' | 'choices' | 'limits'>, typed: string | string[], reading: Reading): Read {
  const { say } = reading
  if (q.kind === 'some_of') return readSome(q, [typed].flat(), say)
  if (typeof typed !== 'string') return { flaw: say('onlyOne') }
  const text = typed.trim()
  switch (q.kind) {
    case 'email': {
      const email = parseEmail(text)
      return email ? { value: email.address } : { flaw: say('notEmail') }
    }
    case 'phone': {
      const phone = parsePhoneNumberFromString(text, reading.country as CountryCode)
      return phone?.isPossible() ? { value: phone.number } : { flaw: say('notPhone') }
    }
    case 'number':
      return withinNumbers(q, readNumber(text), String, 'notNumber', say)
    case 'money':
      return withinNumbers(
        q,
        readNumber(
          text
            .replace(/^\p{Sc}|\p{Sc}$/gu, '')
            .replace(/^[A-Z]{3}|[A-Z]{3}$/g, '')
            .trim(),
        ),
        n => String(Math.round(n * 10 ** reading.cents)),
        'notAmount',
        say,
      )
    case 'date':
      return readDate(q, text, say)
    case 'one_of':
      return q.choices!.some(c => c.value === typed) ? { value: typed } : { flaw: say('notOffered') }
    case 'yes_no':
      return typed === 'yes' || typed === 'no' ? { value: typed } : { flaw: say('yesOrNo') }
    case 'country':
      return isCountry(text.toUpperCase()) ? { value: text.toUpperCase() } : { flaw: say('notCountry') }
    case 'url':
      return readUrl(text, say)
    case 'consent':
      return typed === 'yes' || typed === 'on' ? { value: 'yes' } : { flaw: say('tickOrLeave') }
    default:
      return withinLength(q, typed, say)
  }
}

function withinLength(q: Pick<PublicQuestion, 'limits'>, typed: string, say: Say): Read {
  const length = [...typed.trim()].length
  const { least, most } = q.limits ?? { least: null, most: null }
  if (least !== null && length < Number(least)) return { flaw: say('leastLetters', { n: Number(least), now: length }) }
  if (most !== null && length > Number(most)) return { flaw: say('mostLetters', { n: Number(most), now: length }) }
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
  const whole = decimal ? bare.slice(0, last) : bare
  // Groups have three digits each, or it is no number but a date, a version, a phone.
  if (/[.,]/.test(whole) && !/^[+-]?\d{1,3}([.,]\d{3})+$/.test(whole)) return null
  const number = Number(whole.replace(/[.,]/g, '') + (decimal ? `.${bare.slice(last + 1)}` : ''))
  return Number.isFinite(number) ? number : null
}

function withinNumbers(
  q: Pick<PublicQuestion, 'limits'>,
  number: number | null,
  keep: (n: number) => string,
  otherwise: TextKey,
  say: Say,
): Read {
  if (number === null) return { flaw: say(otherwise) }
  if (Math.abs(number) > 1e12) return { flaw: say('tooLarge') }
  const { least, most } = q.limits ?? { least: null, most: null }
  if (least !== null && number < Number(least)) return { flaw: say('leastNumber', { n: String(least) }) }
  if (most !== null && number > Number(most)) return { flaw: say('mostNumber', { n: String(most) }) }
  return { value: keep(number) }
}

function readDate(q: Pick<PublicQuestion, 'limits'>, text: string, say: Say): Read {
  // 2026-04-18 as browsers send it; 18.4.2026 and 18/04/2026 as people type it.
  const iso = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text)
  const typed = /^(\d{1,2})[./](\d{1,2})[./](\d{4})$/.exec(text)
  const parts = iso ? [iso[1], iso[2], iso[3]] : typed ? [typed[3], typed[2], typed[1]] : null
  if (!parts) return { flaw: say('notDate') }
  const [year, month, day] = parts.map(Number) as [number, number, number]
  const date = new Date(Date.UTC(year, month - 1, day))
  if (year < 1000 || date.getUTCMonth() !== month - 1 || date.getUTCDate() !== day) return { flaw: say('noSuchDay') }
  const value = date.toISOString().slice(0, 10)
  const { least, most } = q.limits ?? { least: null, most: null }
  if (least !== null && value < String(least)) return { flaw: say('firstDay', { day: String(least) }) }
  if (most !== null && value > String(most)) return { flaw: say('lastDay', { day: String(most) }) }
  return { value }
}

/** A web address, with or without its scheme. Only http and https, and a host with a dot. */
function readUrl(text: string, say: Say): Read {
  const flaw = { flaw: say('notUrl') }
  if (/\s/.test(text) || text.length > 2000) return flaw
  try {
    const url = new URL(/^[a-z][a-z0-9+.-]*:/i.test(text) && !/^[^/]+:\d/.test(text) ? text : `https://${text}`)
    if (!['http:', 'https:'].includes(url.protocol) || url.username || !url.hostname.includes('.')) return flaw
    return { value: url.href }
  } catch {
    return flaw
  }
}

function readSome(q: Pick<PublicQuestion, 'choices' | 'limits'>, typed: string[], say: Say): Read {
  const values = [...new Set(typed)]
  if (values.some(v => !q.choices!.some(c => c.value === v))) return { flaw: say('someNotOffered') }
  const { least, most } = q.limits ?? { least: null, most: null }
  if (least !== null && values.length < Number(least)) return { flaw: say('leastSome', { n: String(least) }) }
  if (most !== null && values.length > Number(most)) return { flaw: say('mostSome', { n: String(most) }) }
  // In the order in which they are offered, whatever the order of the clicks.
  return { value: q.choices!.map(c => c.value).filter(v => values.includes(v)) }
}

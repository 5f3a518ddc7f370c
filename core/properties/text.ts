import { fileOf } from '#core/files/kinds'
import { countries } from '#core/properties/countries'
import type { Property, PropertyValue } from '#core/properties/kinds'

/**
 * A property's value as people read it: choices by their text, money with its
 * currency, dates in words. A value of an earlier kind is shown as it stands.
 */
export function propertyText(
  property: Pick<Property, 'kind' | 'choices'> | undefined,
  value: PropertyValue,
  currency: string,
  language = 'en',
): string {
  const one = (text: string): string => {
    switch (property?.kind) {
      case 'one_of':
      case 'some_of':
        return property.choices.find(c => c.value === text)?.text ?? text
      case 'yes_no':
        return text === 'yes' ? 'Yes' : text === 'no' ? 'No' : text
      case 'country':
        return countries(language).find(c => c.value === text)?.text ?? text
      case 'money':
        return /^-?\d+$/.test(text) ? money(Number(text), currency, language) : text
      case 'file':
        return fileOf(text)?.name ?? text
      case 'number':
        return text !== '' && Number.isFinite(Number(text)) ? Number(text).toLocaleString(language) : text
      case 'date':
        return /^\d{4}-\d{2}-\d{2}$/.test(text)
          ? new Intl.DateTimeFormat(language, { dateStyle: 'long', timeZone: 'UTC' }).format(new Date(`${text}T00:00:00Z`))
          : text
      default:
        return text
    }
  }
  return [value].flat().map(one).join(', ')
}

/** An amount in the smallest unit, with its currency; cents only where there are some. */
export function money(amount: number, currency: string, language = 'en'): string {
  const format = new Intl.NumberFormat(language, {
    style: 'currency',
    currency,
    trailingZeroDisplay: 'stripIfInteger',
  } as Intl.NumberFormatOptions)
  return format.format(amount / 10 ** (format.resolvedOptions().maximumFractionDigits ?? 2))
}

import { isCountry } from '#core/properties/countries'
import type { PropertyKind, PropertyValue } from '#core/properties/kinds'

/** The kinds whose value may be set to the same for everybody. An address is somebody's own, and so are files. */
export const isSettable = (kind: PropertyKind): boolean => kind !== 'email' && kind !== 'file'

const KEPT: Partial<Record<PropertyKind, RegExp>> = {
  number: /^-?\d+(\.\d+)?$/,
  money: /^-?\d+$/,
  date: /^\d{4}-\d{2}-\d{2}$/,
  yes_no: /^(yes|no)$/,
  url: /^https?:\/\/\S+$/,
  phone: /^\+\d{5,15}$/,
}

/** Whether a value is one as a property of this kind is kept (`PropertyValue`), and not empty. */
export function fitsKind(kind: PropertyKind, value: PropertyValue): boolean {
  if (kind === 'some_of') return Array.isArray(value) && value.length > 0 && value.every(v => v.trim() !== '')
  if (Array.isArray(value) || value.trim() === '') return false
  return kind === 'country' ? isCountry(value) : (KEPT[kind]?.test(value) ?? true)
}

import { getMetadataStorage, IsIn, IsObject, IsOptional, ValidateNested } from 'class-validator'
import { readCondition, type Askable } from '#core/conditions/condition'
import type { Flaw } from '#core/flaws'
import { check, IsListOfObjects, isPlain, noteType, typeAt, type Checked, type ClassConstructor } from '#core/validate'

/**
 * What is stored as JSON is stated once, as a class: its fields are the type, class-validator's words on them the check, and
 * the words of this module what is taken where nothing is said, which class stands where, and how an earlier version is read.
 */
export interface Shape<T extends object> extends ClassConstructor<T> {
  /** Brings what an earlier Cavlin wrote to the form of this one, before it is checked. */
  upgrade?: (plain: unknown) => unknown
  /** Takes out what does not belong together, when it is known to be right. */
  tidy?: (value: T) => T
}

/** A key may not be a name that every object has; of those only one is written in small letters. */
export const KEY = /^(?!constructor$)[a-z][a-z0-9_]{0,49}$/
export const KEY_MESSAGE = 'A key has small letters, digits and underscores, begins with a letter, and has at most 50 of them'

/** What is said of fields beside class-validator's words, by the prototype of their class. */
interface Note {
  preset?: () => unknown
  about?: (object: object) => Askable
  says?: string
}
const notes = new WeakMap<object, Map<string, Note>>()
function noteAt(target: object, field: string | symbol): Note {
  if (!notes.has(target)) notes.set(target, new Map())
  const fields = notes.get(target)!
  if (!fields.has(String(field))) fields.set(String(field), {})
  return fields.get(String(field))!
}

/** The field may be left out, and is then this. */
export const Default =
  (value: unknown): PropertyDecorator =>
  (target, field) => {
    IsOptional()(target, field)
    noteAt(target, field).preset = () => structuredClone(value)
  }

/** The field holds a condition about these attributes. */
export const ConditionRequired =
  (about: Askable): PropertyDecorator =>
  (target, field) => {
    IsObject({ message: 'A condition is an object' })(target, field)
    noteAt(target, field).about = () => about
  }
/** The field holds a condition about these attributes, or may be left out. */
export const ConditionMaybe =
  (about: Askable): PropertyDecorator =>
  (target, field) => {
    IsOptional()(target, field)
    ConditionRequired(about)(target, field)
  }
/** The field holds a condition about these attributes, or none. */
export const ConditionAbout = (about: Askable): PropertyDecorator => ConditionBy(() => about)
/** The same, about attributes that the object itself decides. */
export const ConditionBy =
  <T extends object>(about: (object: T) => Askable): PropertyDecorator =>
  (target, field) => {
    Default(null)(target, field)
    IsObject({ message: 'A condition is an object' })(target, field)
    noteAt(target, field).about = about as (object: object) => Askable
  }

type Kinds = Record<string, ClassConstructor<object>>
/** What stands for an object of a kind that there is not: it says so of its `kind`, and nothing of the rest. */
function strangerTo(kinds: Kinds): ClassConstructor<object> {
  class Stranger {
    static only = ['kind']
    kind!: string
  }
  IsIn(Object.keys(kinds), { message: `The kind must be one of ${Object.keys(kinds).join(', ')}` })(Stranger.prototype, 'kind')
  return Stranger
}
function noteKinds(target: object, field: string | symbol, kinds: Kinds, list: boolean): void {
  const stranger = strangerTo(kinds)
  noteType(
    target,
    field,
    value => {
      if (!isPlain(value)) return undefined
      return typeof value.kind === 'string' && Object.hasOwn(kinds, value.kind) ? kinds[value.kind] : stranger
    },
    () => [...new Set(Object.values(kinds))],
    list,
  )
}

/** The field holds an object of one of several classes; its `kind` says which. */
export const OneOf =
  (kinds: Kinds): PropertyDecorator =>
  (target, field) => {
    IsObject({ message: 'This must be an object' })(target, field)
    ValidateNested()(target, field)
    noteKinds(target, field, kinds, false)
  }
/** The field holds a list of such. */
export const ListOfKinds =
  (kinds: Kinds): PropertyDecorator =>
  (target, field) => {
    IsListOfObjects()(target, field)
    noteKinds(target, field, kinds, true)
  }

/** What is said of the field in the description of the open API. */
export const Says =
  (says: string): PropertyDecorator =>
  (target, field) => {
    noteAt(target, field).says = says
  }
/** What is said of a field beside its rules: what it is by itself, whether it is a condition, and what it means. */
export function saidOf(shape: ClassConstructor<object>, field: string): { preset: unknown; isCondition: boolean; says: string | null } {
  const { preset, about, says } = notedAt(shape, field)
  return { preset: preset?.(), isCondition: about !== undefined, says: says ?? null }
}

const fieldsOf = (shape: ClassConstructor<object>): string[] => [
  ...new Set(
    getMetadataStorage()
      .getTargetValidationMetadatas(shape, '', false, false)
      .map(rule => rule.propertyName),
  ),
]

function notedAt(shape: ClassConstructor<object>, field: string): Note {
  for (let p = shape.prototype as object | null; p; p = Object.getPrototypeOf(p) as object | null) {
    const note = notes.get(p)?.get(field)
    if (note) return note
  }
  return {}
}

/**
 * Reads what comes from outside: upgrades it, checks it, and fills in what was left out.
 * @returns a plain object with all fields of the class, or what is wrong, field by field
 */
export function read<T extends object>(shape: Shape<T>, plain: unknown): Checked<T> {
  const { value, flaws } = check(shape, shape.upgrade ? shape.upgrade(plain) : plain)
  if (!value) return { value: null, flaws }
  const found: Flaw[] = []
  const filled = fill(shape, value, '', found)
  return found.length ? { value: null, flaws: found } : { value: filled, flaws: [] }
}

/** What was stored some time ago, with what has come since. It was checked when it was stored. */
export const complete = <T extends object>(shape: Shape<T>, stored: unknown): T =>
  fill(shape, (shape.upgrade ? shape.upgrade(stored) : stored) as T, '', null)

/** @param flaws of conditions; null: what is stored is taken as it is */
function fill<T extends object>(shape: Shape<T>, value: T, path: string, flaws: Flaw[] | null): T {
  const filled: Record<string, unknown> = {}
  for (const field of fieldsOf(shape)) {
    const own = fillField(shape, field, value, path ? `${path}.${field}` : field, flaws)
    if (own !== undefined) filled[field] = own
  }
  return shape.tidy ? shape.tidy(filled as T) : (filled as T)
}

function fillField(shape: ClassConstructor<object>, field: string, whole: object, path: string, flaws: Flaw[] | null): unknown {
  const value = (whole as Record<string, unknown>)[field]
  const { preset, about } = notedAt(shape, field)
  if (value === undefined || value === null) return preset ? preset() : value
  if (about) return flaws ? readable(value, path, about(whole), flaws) : value
  const build = (one: unknown, at: string) => {
    const type = isPlain(one) ? typeAt(shape, field, one) : undefined
    return type ? fill(type, one as object, at, flaws) : one
  }
  return Array.isArray(value) ? value.map((one, i) => build(one, `${path}.${i}`)) : build(value, path)
}

function readable(value: unknown, path: string, about: Askable, flaws: Flaw[]): unknown {
  try {
    return readCondition(value, path, about)
  } catch (error) {
    if (!(error instanceof TypeError)) throw error
    flaws.push({ field: error.message.split(' ')[0]!, message: `${error.message}.` })
    return null
  }
}

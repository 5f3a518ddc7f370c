import 'reflect-metadata'
import {
  getMetadataStorage,
  IsArray,
  IsObject,
  ValidateBy,
  ValidateNested,
  validateSync,
  ValidationTypes,
  type ValidationError,
} from 'class-validator'
import type { Flaw } from '#core/flaws'

export interface ClassConstructor<T> {
  new (): T
  /** Only these fields are looked at, whatever else comes. */
  only?: string[]
}

/** Which class stands at which field of a class, by its prototype; it may depend on what stands there. */
type TypeOf = (value: unknown) => ClassConstructor<object> | undefined
interface Inside {
  type: TypeOf
  all: () => ClassConstructor<object>[]
  list: boolean
}
const inside = new WeakMap<object, Map<string, Inside>>()

/** Notes which class stands at a field. @param all those that may @param list whether a list of them does */
export function noteType(target: object, field: string | symbol, type: TypeOf, all: Inside['all'], list = false): void {
  if (!inside.has(target)) inside.set(target, new Map())
  inside.get(target)!.set(String(field), { type, all, list })
}

/** The field holds an object of another class, checked by that class's rules. It must be there, unless `IsOptional` says otherwise. */
export const Nested =
  (type: () => ClassConstructor<object>): PropertyDecorator =>
  (target, field) => {
    IsObject({ message: 'This must be an object' })(target, field)
    ValidateNested()(target, field)
    noteType(target, field, type, () => [type()])
  }

export const isPlain = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** The field holds a list of objects, each checked by the rules of its class. class-validator by itself passes over what is null in it. */
export const IsListOfObjects = (): PropertyDecorator => (target, field) => {
  IsArray({ message: 'This must be a list' })(target, field)
  ValidateBy({
    name: 'isListOfObjects',
    validator: {
      validate: (v: unknown) => Array.isArray(v) && v.every(isPlain),
      defaultMessage: () => 'Each of the list must be an object',
    },
  })(target, field)
  ValidateNested({ each: true })(target, field)
}

/** A text, or a list of texts: what answers and properties are. */
export const IsTextOrTexts = (): PropertyDecorator =>
  ValidateBy({ name: 'isTextOrTexts', validator: { validate: (v: unknown) => [v].flat().every(part => typeof part === 'string') } })

/** The field holds a list of objects of another class. */
export const ListOf =
  (type: () => ClassConstructor<object>): PropertyDecorator =>
  (target, field) => {
    IsListOfObjects()(target, field)
    noteType(target, field, type, () => [type()], true)
  }

function insideOf(shape: ClassConstructor<object>, field: string): Inside | undefined {
  for (let p = shape.prototype as object | null; p; p = Object.getPrototypeOf(p) as object | null) {
    const found = inside.get(p)?.get(field)
    if (found) return found
  }
}
/** The class that stands at a field of a class; undefined where none does. @param value what stands there */
export const typeAt = (shape: ClassConstructor<object>, field: string, value: unknown): ClassConstructor<object> | undefined =>
  insideOf(shape, field)?.type(value)
/** All classes that may stand at a field, and whether it is a list of them; undefined where none does. */
export function typesAt(shape: ClassConstructor<object>, field: string): { all: ClassConstructor<object>[]; list: boolean } | undefined {
  const found = insideOf(shape, field)
  return found && { all: found.all(), list: found.list }
}

/**
 * A plain value as an instance, with all that is nested in it. Names that every object has are nobody's fields: they are
 * left out and told of, wherever they stand.
 */
function instanceOf<T extends object>(shape: ClassConstructor<T>, plain: object, path: string, lost: Flaw[]): T {
  const made = new shape()
  for (const [key, value] of Object.entries(plain)) {
    if (shape.only && !shape.only.includes(key)) continue
    const at = path ? `${path}.${key}` : key
    if (key in Object.prototype) {
      lost.push({ field: at, message: noField(key) })
      continue
    }
    const built = (v: unknown, where: string) => {
      const type = isPlain(v) ? typeAt(shape, key, v) : undefined
      return type ? instanceOf(type, v as object, where, lost) : v
    }
    Object.assign(made, { [key]: Array.isArray(value) ? value.map((v, i) => built(v, `${at}.${i}`)) : built(value, at) })
  }
  return made
}

type Rule = ReturnType<ReturnType<typeof getMetadataStorage>['getTargetValidationMetadatas']>[number]
/** A field's conditions, under which it is asked at all, and what is asked of it. */
interface Field {
  name: string
  when: ((object: object, value: unknown) => boolean)[]
  rules: Asked[]
}
/** A rule, with what tests it. */
interface Asked {
  property: string
  constraints: unknown[]
  each: boolean
  tests: ReturnType<typeof constraintsOf>[number]['instance'][]
}

/** The rules of classes in which nothing is nested, by class; null where something is. */
const flat = new Map<unknown, Field[] | null>()

/**
 * The rules of a class, to be asked one by one. What is right, and nearly all is, then needs none of the objects in which
 * class-validator gathers what is wrong, nor its search through the rules of all classes; that was most of a check's time.
 */
function flatRules(shape: ClassConstructor<object>): Field[] | null {
  const kept = flat.get(shape)
  if (kept !== undefined) return kept
  const rules = getMetadataStorage().getTargetValidationMetadatas(shape, '', false, false)
  const simple =
    rules.length > 0 &&
    rules.every(
      r =>
        !r.groups?.length &&
        !r.validateIf &&
        (r.type === ValidationTypes.CONDITIONAL_VALIDATION ||
          (r.type === ValidationTypes.CUSTOM_VALIDATION && constraintsOf(r).every(c => !c.async))),
    )
  const of = (name: string, type: string) => rules.filter(r => r.propertyName === name && r.type === type)
  const fields = [...new Set(rules.map(r => r.propertyName))].map(name => ({
    name,
    when: of(name, ValidationTypes.CONDITIONAL_VALIDATION).map(r => r.constraints[0] as Field['when'][number]),
    rules: of(name, ValidationTypes.CUSTOM_VALIDATION).map(r => ({
      property: name,
      constraints: r.constraints as unknown[],
      each: r.each,
      tests: constraintsOf(r).map(c => c.instance),
    })),
  }))
  flat.set(shape, simple ? fields : null)
  return simple ? fields : null
}

const constraintsOf = (rule: Rule) => getMetadataStorage().getTargetValidatorConstraints(rule.constraintCls)

/** Whether an object has no other fields, and each is as its rules ask. */
function isRight(plain: object, shape: ClassConstructor<object>, fields: Field[]): boolean {
  if (!Object.keys(plain).every(key => fields.some(f => f.name === key))) return false
  return fields.every(({ name, when, rules }) => {
    const value = (plain as Record<string, unknown>)[name]
    return !when.every(asks => asks(plain, value)) || rules.every(rule => isAsAsked(rule, value, plain, shape))
  })
}

function isAsAsked(
  { property, constraints, each, tests }: Asked,
  value: unknown,
  object: object,
  { name: targetName }: ClassConstructor<object>,
): boolean {
  const args = { targetName, property, object, value, constraints }
  try {
    return tests.every(test => (each && Array.isArray(value) ? value.every(v => test.validate(v, args)) : test.validate(value, args)))
  } catch {
    // As in `wrongIn`, which says so.
    return false
  }
}

export type Checked<T> = { value: T; flaws: [] } | { value: null; flaws: Flaw[] }

/**
 * Checks a plain value against a class-validator class; unknown fields are flaws.
 * @returns the value as an instance, or what is wrong with it, field by field.
 */
export function check<T extends object>(shape: ClassConstructor<T>, plain: unknown): Checked<T> {
  if (typeof plain !== 'object' || plain === null || Array.isArray(plain))
    return { value: null, flaws: [{ field: '', message: 'Send a JSON object.' }] }
  const fields = flatRules(shape)
  if (fields && isRight(plain, shape, fields)) return { value: Object.assign(new shape(), plain), flaws: [] }
  const lost: Flaw[] = []
  const value = instanceOf(shape, plain, '', lost)
  const flaws = [...wrongIn(value), ...lost]
  return flaws.length ? { value: null, flaws } : { value, flaws: [] }
}

/** What class-validator finds wrong. What measures a text by its bytes throws at half a sign (a lone surrogate): that is a flaw as well. */
function wrongIn(value: object): Flaw[] {
  try {
    return flatten(
      validateSync(value, {
        whitelist: true,
        forbidNonWhitelisted: true,
        forbidUnknownValues: true,
        validationError: { target: false, value: false },
      }),
      '',
    )
  } catch (error) {
    if (!(error instanceof URIError)) throw error
    const torn = Object.entries(value)
      .filter(([, v]) => typeof v === 'string' && /\p{Surrogate}/u.test(v))
      .map(([field]) => field)
    return (torn.length ? torn : ['']).map(field => ({ field, message: 'This text holds half of a sign. Send it whole.' }))
  }
}

function flatten(errors: ValidationError[], path: string): Flaw[] {
  return errors.flatMap(error => {
    const field = path ? `${path}.${error.property}` : error.property
    // One sentence a field, and first of all what kind of thing it must be.
    const rules = Object.entries(error.constraints ?? {}).sort(([a], [b]) => Number(b.startsWith('is')) - Number(a.startsWith('is')))
    const own = rules.slice(0, 1).map(([rule, message]) => ({
      field,
      message: rule === 'whitelistValidation' ? noField(error.property) : sentence(message),
    }))
    // What is not even the right kind of thing has no fields to speak of.
    return own.length ? own : flatten(error.children ?? [], field)
  })
}

const noField = (name: string) => `There is no field “${name}” here. Leave it out.`

const sentence = (message: string) => {
  const text = message.charAt(0).toUpperCase() + message.slice(1)
  return /[.!?]$/.test(text) ? text : `${text}.`
}

import { getMetadataStorage, ValidationTypes } from 'class-validator'
import { targetConstructorToSchema } from 'class-validator-jsonschema'
import { saidOf } from '#core/shapes'
import { typesAt, type ClassConstructor } from '#core/validate'

type Schema = Record<string, unknown>
const ref = (name: string): Schema => ({ $ref: `#/components/schemas/${name}` })

/**
 * The schemas (JSON Schema 2020-12, as OpenAPI 3.1 has it) of classes and of all that stands in them, by their names: what the
 * rules of a class ask is what its description says.
 * @throws when two classes have one name
 */
export function schemasOf(
  roots: ClassConstructor<object>[],
  named: Record<string, Schema> = {},
  seen = new Map<string, unknown>(),
): Record<string, Schema> {
  for (const shape of roots) {
    const { name } = shape as unknown as { name: string }
    if (seen.get(name) === shape) continue
    if (seen.has(name)) throw new Error(`Two classes are called ${name}.`)
    seen.set(name, shape)
    const { schema, inner } = schemaOf(shape)
    named[name] = schema
    schemasOf(inner, named, seen)
  }
  return named
}

function schemaOf(shape: ClassConstructor<object>): { schema: Schema; inner: ClassConstructor<object>[] } {
  const made = targetConstructorToSchema(shape as never, {
    additionalConverters: {
      [ValidationTypes.NESTED_VALIDATION]: () => ({}),
      equals: meta => ({ const: meta.constraints[0] }),
      isListOfObjects: () => ({}),
      isPropertyValue: () => ({ type: ['string', 'array'] }),
      isLimit: () => ({ type: ['number', 'string', 'null'] }),
    },
  }) as { properties?: Record<string, Schema>; required?: string[] }
  const inner: ClassConstructor<object>[] = []
  const properties = Object.fromEntries(
    Object.entries(made.properties ?? {}).map(([field, own]) => {
      const { preset, isCondition, says } = saidOf(shape, field)
      const types = typesAt(shape, field)
      inner.push(...(types?.all ?? []))
      const plain = types ? ofTypes(types) : isCondition ? ref('Condition') : own
      const open = takesNull(shape, field) ? orNull(plain) : plain
      return [
        field,
        {
          ...open,
          ...(preset !== undefined && preset !== null && typeof preset !== 'object' && { default: preset }),
          ...(says && { description: says }),
        },
      ]
    }),
  )
  return { schema: { type: 'object', required: made.required ?? [], properties, additionalProperties: false }, inner }
}

function ofTypes({ all, list }: { all: ClassConstructor<object>[]; list: boolean }): Schema {
  const names = all.map(type => ref((type as unknown as { name: string }).name))
  const one = names.length === 1 ? names[0]! : { oneOf: names }
  return list ? { type: 'array', items: one } : one
}

/** Fields that may be left out may be null as well; so may those whose rules ask nothing of null. */
const takesNull = (shape: ClassConstructor<object>, field: string): boolean =>
  getMetadataStorage()
    .getTargetValidationMetadatas(shape as never, '', false, false)
    .some(
      rule =>
        rule.propertyName === field &&
        rule.type === ValidationTypes.CONDITIONAL_VALIDATION &&
        !(rule.constraints[0] as (o: object, v: unknown) => boolean)({ [field]: null }, null),
    )

function orNull(schema: Schema): Schema {
  const types = [schema.type ?? []].flat() as string[]
  if (!types.length) return { oneOf: [schema, { type: 'null' }] }
  return { ...schema, type: [...new Set([...types, 'null'])], ...(Array.isArray(schema.enum) && { enum: [...schema.enum, null] }) }
}

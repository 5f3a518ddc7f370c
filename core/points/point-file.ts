import { IsIn, IsObject, IsString, MaxLength } from 'class-validator'
import { readPage } from '#core/pages/schema'
import type { PageDefinition } from '#core/pages/definition'
import type { Flaw } from '#core/flaws'
import { kindOf, type PointDefinition } from '#core/points/definition'
import { POINT_KINDS, type PointKind } from '#core/points/kinds'
import { readDefinition } from '#core/points/shapes/definition'
import { check } from '#core/validate'

/** A form, quiz, chat or page as a file of its own (JSON): the working copy with what it is. Pictures and downloads are named in it and not contained. */
export class PointFile {
  @IsIn(POINT_KINDS, { message: 'This file is of no form, quiz, chat or page.' }) kind!: PointKind
  @IsString() @MaxLength(120) name!: string
  @IsObject() definition!: object
}

export const pointFile = (kind: PointKind, name: string, definition: object): PointFile => ({ kind, name, definition })

type Read = { file: PointFile; definition: PointDefinition | PageDefinition; flaws: [] } | { file: null; flaws: Flaw[] }

/** Reads such a file, also one of an earlier Cavlin. @param plain an untrusted value */
export function readPointFile(plain: unknown): Read {
  const { value, flaws } = check(PointFile, plain)
  if (!value) return { file: null, flaws }
  const under = (found: Flaw[]) => found.map(f => ({ ...f, field: `definition.${f.field}` }))
  if (value.kind === 'page') {
    const { page, flaws } = readPage(value.definition)
    return page ? { file: value, definition: page, flaws: [] } : { file: null, flaws: under(flaws) }
  }
  const read = readDefinition(value.definition)
  if (!read.definition) return { file: null, flaws: under(read.flaws) }
  if (kindOf(read.definition) !== value.kind)
    return { file: null, flaws: [{ field: 'kind', message: `The file says it is a ${value.kind}, and what is in it is none.` }] }
  return { file: value, definition: read.definition, flaws: [] }
}

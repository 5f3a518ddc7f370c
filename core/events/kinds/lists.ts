import { IsArray, IsString } from 'class-validator'
import { eventKind, type Names, type Sentence } from '#core/events/kind'

/** They came on lists, or were taken from them. */
export class Listed {
  @IsArray() @IsString({ each: true }) on!: string[]
  @IsArray() @IsString({ each: true }) off!: string[]
}
const named = (ids: string[], names: Names): string => ids.map(id => `“${names.list(id) ?? 'a list that is no more'}”`).join(', ')
export const lists = eventKind({
  payload: Listed,
  sentence: ({ on, off }, { names, actor }): Sentence => {
    const [put, taken] = actor
      ? [`${actor} put them on `, on.length ? ' and took them from ' : `${actor} took them from `]
      : ['Put on ', on.length ? ' and taken from ' : 'Taken from ']
    return [...(on.length ? [put, { strong: named(on, names) }] : []), ...(off.length ? [taken, { strong: named(off, names) }] : [])]
  },
  redacted: payload => payload,
})

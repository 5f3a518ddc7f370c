import { IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

/** One of us put words on them, or took some off. */
export class Tagged {
  @IsString({ each: true }) on!: string[]
  @IsString({ each: true }) off!: string[]
}
const named = (tags: string[]) => tags.map(tag => `#${tag}`).join(', ')
export const tags = eventKind({
  payload: Tagged,
  sentence: ({ on, off }, told): Sentence => [
    `${who(told)} `,
    ...(on.length ? ['put on ', { strong: named(on) }] : []),
    ...(on.length && off.length ? [' and '] : []),
    ...(off.length ? ['took off ', { strong: named(off) }] : []),
    ...(on.length || off.length ? [] : ['changed nothing of the tags']),
  ],
  redacted: () => ({ on: [], off: [] }),
})

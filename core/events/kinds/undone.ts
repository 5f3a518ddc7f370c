import { IsIn, IsInt, IsOptional, IsString } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

const ACTS = ['status', 'owner', 'next_step', 'call', 'accept', 'tags', 'sent_back'] as const

/** Somebody took back what they had done. */
export class Undone {
  /** The event that it undoes, by its version. */
  @IsInt() of!: number
  @IsIn(ACTS) act!: (typeof ACTS)[number]
  /** The status that is not so any more. */
  @IsOptional() @IsString() status?: string
}
const WORDS: Record<Undone['act'], string> = {
  status: 'the status',
  owner: 'who answers for them',
  next_step: 'the next step',
  call: 'the call',
  accept: 'that they take it',
  tags: 'the tags',
  sent_back: 'that they are sent back',
}
export const undone = eventKind({
  payload: Undone,
  sentence: ({ act, status }, told): Sentence => [
    `${who(told)} took back ${WORDS[act]}`,
    ...(status ? [' ', { strong: told.names.status(status) }] : []),
  ],
  redacted: payload => payload,
})
export type UndoneAct = Undone['act']
export const isUndoable = (cause: string): cause is UndoneAct => (ACTS as readonly string[]).includes(cause)

import { IsIn, IsISO8601 } from 'class-validator'
import { eventKind, who, type Sentence } from '#core/events/kind'

/** What stops the clock of who waits. A lead that is closed or put off waits no more, though nobody answered. */
export const REACTIONS = ['call', 'mail', 'chat', 'meeting', 'closed'] as const
export type Reaction = (typeof REACTIONS)[number]
const WORDS: Record<Reaction, string> = { call: 'with a call', mail: 'with a mail', chat: 'in a chat', meeting: 'by a meeting', closed: '' }

/** The clock stopped. */
export class Answered {
  /** Since when they had waited. */
  @IsISO8601() since!: string
  @IsIn(REACTIONS) by!: Reaction
}
export const answered = eventKind({
  payload: Answered,
  sentence: ({ since, by }, told): Sentence =>
    by === 'closed'
      ? [{ faint: 'The clock stopped without an answer; they had waited since ' }, { moment: since }]
      : [
          {
            faint: told.actor
              ? `The clock stopped: ${who(told)} answered ${WORDS[by]}; they had waited since `
              : 'The clock stopped: they chose a time to meet; they had waited since ',
          },
          { moment: since },
        ],
  redacted: payload => payload,
})

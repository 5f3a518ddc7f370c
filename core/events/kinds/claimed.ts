import { IsOptional, IsString } from 'class-validator'
import { eventKind } from '#core/events/kind'

/** An address arrived on them that they were not found by. */
export class Claimed {
  @IsOptional() @IsString() address?: string
}
export const claimed = eventKind({
  payload: Claimed,
  sentence: ({ address }) => [
    `Gave the address ${address ?? 'of somebody'} `,
    { faint: 'they were found by something else, so it is only claimed' },
  ],
  redacted: () => ({}),
})

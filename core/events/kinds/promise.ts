import { IsIn, IsInt, IsOptional, IsString } from 'class-validator'
import { eventKind, type Sentence } from '#core/events/kind'
import { LOW_STEPS, type LowStep } from '#core/follow-up/state'

/** A promise runs out, and somebody was told; or it has run out, and nobody else was found. */
export class PromiseLow {
  @IsIn(LOW_STEPS) step!: LowStep
  /** Of so many working minutes so many are over. */
  @IsInt() over!: number
  @IsInt() of!: number
  @IsString({ each: true }) told!: string[]
  @IsOptional() @IsString() stays?: string
}
export const promise = eventKind({
  payload: PromiseLow,
  sentence: ({ over, of, told: ids, stays }, { names }): Sentence => {
    const people = ids.map(names.member).join(' and ')
    const so = `Of ${of} promised working minutes ${over} are over`
    if (stays !== undefined) return [{ faint: `${so}, and nobody else was free: it stays with ${names.member(stays)}` }]
    return [{ faint: people ? `${so}: ${people} was told` : `${so}, and there was nobody to tell` }]
  },
  redacted: payload => payload,
})

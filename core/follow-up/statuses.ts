import { ArrayMaxSize, ArrayUnique, IsArray, IsIn, IsObject, IsOptional, IsString, Length, Matches } from 'class-validator'
import { ASKS, type Ask } from '#core/follow-up/state'
import type { Flaw } from '#core/flaws'
import { ListOf } from '#core/validate'
import { STAGES, type Stage, type Status } from '#core/vocabulary'

/** A status as a manager sets it up. */
export class StatusSetting {
  /** Of one that there is. */
  @IsOptional() @IsString() @Length(1, 60) key?: string | null
  @IsString() @Length(1, 60) @Matches(/\S/, { message: 'A status needs a name' }) name!: string
  @IsIn(STAGES, { message: 'A status is the first one, one in between, or an end' }) stage!: Stage
  @IsArray() @ArrayUnique() @IsIn(ASKS, { each: true }) asks!: Ask[]
  @IsArray()
  @ArrayMaxSize(30)
  @ArrayUnique((r: unknown) => String(r).trim().toLowerCase(), { message: 'A reason stands there twice' })
  @IsString({ each: true })
  @Length(1, 120, { each: true })
  reasons!: string[]
}
/** All of them in their order, and where the leads of each go that is given up. */
export class StatusList {
  @ArrayMaxSize(20, { message: 'No more than 20 statuses' }) @ListOf(() => StatusSetting) statuses!: StatusSetting[]
  @IsOptional() @IsObject() moves?: Record<string, string>
}

/** What each stage may ask for: who is worked on says nothing about an end. */
export const MAY_ASK: Record<Stage, readonly Ask[]> = {
  first: [],
  open: ['reason'],
  won: ['reason', 'value', 'day'],
  lost: ['reason', 'day'],
  parked: ['reason', 'until'],
}

/**
 * What is wrong with statuses together.
 * @param before those that there are
 * @param leads how many leads have each
 */
export function statusFlaws(
  { statuses, moves = {} }: StatusList,
  before: Pick<Status, 'key' | 'name'>[],
  leads: ReadonlyMap<string, number>,
): Flaw[] {
  const flaws: Flaw[] = []
  const say = (field: string, message: string) => flaws.push({ field, message })
  statuses.forEach((s, i) => {
    const name = s.name.trim()
    if (statuses.findIndex(o => o.name.trim().toLowerCase() === name.toLowerCase()) < i)
      say(`statuses.${i}.name`, `Two statuses are called “${name}”. Give one another name.`)
    if (s.key && !before.some(b => b.key === s.key)) say(`statuses.${i}.key`, 'There is no such status any more. Load the statuses again.')
    if (s.key && statuses.findIndex(o => o.key === s.key) < i) say(`statuses.${i}.key`, 'A status stands there twice.')
    const wrong = s.asks.find(ask => !MAY_ASK[s.stage].includes(ask))
    if (wrong) say(`statuses.${i}.asks`, `“${name}” cannot ask for that.`)
  })
  const firsts = statuses.filter(s => s.stage === 'first').length
  if (firsts !== 1)
    say('statuses', firsts ? 'New leads begin with one status: only one can be the first.' : 'New leads need a status to begin with.')
  for (const [stage, called] of [
    ['open', 'in between'],
    ['won', 'won'],
    ['lost', 'lost'],
  ] as const)
    if (!statuses.some(s => s.stage === stage)) say('statuses', `At least one status has to be ${called}.`)
  for (const gone of before.filter(b => !statuses.some(s => s.key === b.key))) {
    const n = leads.get(gone.key) ?? 0
    const to = moves[gone.key]
    if (n && (to === undefined || !statuses.some(s => s.key === to)))
      say(`moves.${gone.key}`, `${n} ${n === 1 ? 'lead is' : 'leads are'} “${gone.name}”. Say where they go.`)
  }
  return flaws
}

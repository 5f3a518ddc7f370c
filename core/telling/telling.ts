import { IsIn, IsInt, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator'
import { DateTime } from 'luxon'
import { Default } from '#core/shapes'
import { Nested } from '#core/validate'
import { nextWork, workBetween, type WorkingHours } from '#core/working-time'

/** What members are told about, as they choose by. */
export const TOLD = ['given', 'waits', 'reminder', 'answer', 'mention', 'team'] as const
export type Told = (typeof TOLD)[number]
export const TOLD_WORDS: Record<Told, string> = {
  given: 'A lead comes to you, or goes on from you',
  waits: 'Somebody of yours waits too long',
  reminder: 'A next step is due, or somebody wakes up',
  answer: 'Somebody answers, or chooses a time to meet',
  mention: 'A colleague names you in a note',
  team: 'Nobody answers somebody of the team',
}
/** How: by mail at once, in a chat of one's own, once an hour, once a morning; or at the bell only, which is told in any case. */
export const HOWS = ['now', 'chat', 'hourly', 'morning', 'bell'] as const
export type How = (typeof HOWS)[number]
export const HOW_WORDS: Record<How, string> = {
  now: 'A mail at once',
  chat: 'A message in my chat, at once',
  hourly: 'One mail an hour',
  morning: 'One mail in the morning',
  bell: 'The bell only',
}

const IsHow = (): PropertyDecorator => (target, field) => {
  Default('now')(target, field)
  IsIn(HOWS, { message: 'Choose at once, the chat, hourly, in the morning, or the bell only' })(target, field)
}
/** Hours in which no mail comes, in minutes since midnight on one's own wall; over midnight where they begin later than they end. */
export class Quiet {
  @IsInt() @Min(0) @Max(1439) from!: number
  @IsInt() @Min(0) @Max(1439) until!: number
}
/** What reaches somebody, how and when. */
export class Telling {
  @IsHow() given!: How
  @IsHow() waits!: How
  @IsHow() reminder!: How
  @IsHow() answer!: How
  @IsHow() mention!: How
  @IsHow() team!: How
  @Default(null) @IsOptional() @Nested(() => Quiet) quiet!: Quiet | null
  /** Where messages to a chat of one's own go; null: there is none, and a mail comes instead. */
  @Default(null) @IsOptional() @IsString() @MaxLength(500) chat!: string | null
}
export const AS_IT_COMES: Telling = {
  given: 'now',
  waits: 'now',
  reminder: 'now',
  answer: 'now',
  mention: 'now',
  team: 'now',
  quiet: null,
  chat: null,
}

/** The end of the quiet hours that a moment lies in; the moment itself when it lies in none. */
function afterQuiet(at: number, quiet: Quiet | null, zone: string): number {
  if (!quiet || quiet.from === quiet.until) return at
  const wall = DateTime.fromMillis(at, { zone })
  const minute = wall.hour * 60 + wall.minute
  const over = quiet.from > quiet.until
  const inside = over ? minute >= quiet.from || minute < quiet.until : minute >= quiet.from && minute < quiet.until
  if (!inside) return at
  const end = wall
    .startOf('day')
    .plus({ days: over && minute >= quiet.from ? 1 : 0 })
    .set({ hour: Math.floor(quiet.until / 60), minute: quiet.until % 60 })
  return Math.max(at, end.toMillis())
}

/** Looked for so far ahead, somebody's next morning is. */
const FAR = 30 * 86_400_000

/** When work begins next, after a moment. */
function nextMorning(at: number, hours: WorkingHours): number {
  const begins = workBetween(at, at + FAR, hours)
    .map(w => w.from)
    .find(from => from > at)
  return begins ?? nextWork(at, hours) ?? at
}

/** When, and by which way, somebody is told beside the bell. */
export interface TellAt {
  /** Milliseconds since 1970. */
  at: number
  /** In one mail with others. */
  together: boolean
  channel: 'mail' | 'chat'
}
/**
 * When and how somebody is told of something that happened.
 * @param insists what is told at once by mail, whatever they wish
 * @returns null: the bell alone tells it
 */
export function tellAt(wish: Telling, insists: ReadonlySet<string>, topic: Told, at: number, hours: WorkingHours): TellAt | null {
  if (insists.has(topic)) return { at, together: false, channel: 'mail' }
  const how = wish[topic]
  if (how === 'bell') return null
  if (how === 'now' || how === 'chat')
    return { at: afterQuiet(at, wish.quiet, hours.zone), together: false, channel: how === 'chat' && wish.chat ? 'chat' : 'mail' }
  const hour = DateTime.fromMillis(at, { zone: hours.zone }).startOf('hour').plus({ hours: 1 }).toMillis()
  return { at: afterQuiet(how === 'hourly' ? hour : nextMorning(at, hours), wish.quiet, hours.zone), together: true, channel: 'mail' }
}

import type { Flow } from '#core/chat/shapes'
import { waits } from '#core/chat/ways'

/** What figures need to know of a conversation. Moments in ms since 1970. */
export interface TalkRow {
  id: string
  began: number
  by: string
  /** Who of us answered first. */
  member: string | null
  asked: number | null
  due: number | null
  answered: number | null
  ended: number | null
  last: number
  state: 'flow' | 'waiting' | 'talking' | 'ended'
  rating: number | null
  /** The steps of its flow that were taken. */
  way: string[]
}
type Ids = string[]
export interface TalkFigures {
  all: Ids
  byDay: Map<string, Ids>
  /** By the hour of the day, 0 to 23. */
  byHour: Ids[]
  byMember: Map<string, Ids>
  byBegan: Map<string, Ids>
  /** Over without anybody of us; and handed to a person. */
  flowAlone: Ids
  handed: Ids
  answered: Ids
  /** Of those who were promised an answer and whose time is over: kept. */
  kept: Ids
  promised: Ids
  /** The median of the minutes from asking for a person to the first answer; null without any. */
  firstReply: number | null
  /** By step of the rating, the lowest first. */
  ratings: Ids[]
}

/**
 * Figures of conversations, each with those it counts.
 * @param when the day and the hour of a moment, in the house's zone
 */
export function talkFigures(rows: readonly TalkRow[], now: number, when: (at: number) => { day: string; hour: number }): TalkFigures {
  const f: TalkFigures = {
    all: rows.map(r => r.id),
    byDay: new Map(),
    byHour: Array.from({ length: 24 }, () => []),
    byMember: new Map(),
    byBegan: new Map(),
    flowAlone: [],
    handed: [],
    answered: [],
    kept: [],
    promised: [],
    firstReply: null,
    ratings: [[], [], [], [], []],
  }
  const into = (map: Map<string, Ids>, key: string, id: string) => map.set(key, [...(map.get(key) ?? []), id])
  const minutes: number[] = []
  for (const r of rows) {
    const { day, hour } = when(r.began)
    into(f.byDay, day, r.id)
    f.byHour[hour]!.push(r.id)
    into(f.byBegan, r.by, r.id)
    if (r.member) into(f.byMember, r.member, r.id)
    // Who was spoken to first asked for nobody.
    const asked = r.by === 'member' ? null : r.asked
    if (asked !== null) f.handed.push(r.id)
    else if (r.state === 'ended' && r.by !== 'member') f.flowAlone.push(r.id)
    if (asked !== null && r.answered !== null) {
      f.answered.push(r.id)
      minutes.push((r.answered - asked) / 60_000)
    }
    if (asked !== null && r.due !== null && (r.answered !== null || r.due <= now)) {
      f.promised.push(r.id)
      if (r.answered !== null && r.answered <= r.due) f.kept.push(r.id)
    }
    if (r.rating) f.ratings[r.rating - 1]!.push(r.id)
  }
  minutes.sort((a, b) => a - b)
  if (minutes.length) f.firstReply = (minutes[Math.floor((minutes.length - 1) / 2)]! + minutes[Math.ceil((minutes.length - 1) / 2)]!) / 2
  return f
}

/** After so long without a word somebody who was in the midst of a flow has left it. */
const LEFT_MS = 30 * 60_000

/**
 * How far people came in a flow: by step, who came to it, and who left there, in the midst: where something waited for them and they
 * never asked for a person.
 */
export function flowLosses(flow: Flow, rows: readonly TalkRow[], now: number): Map<string, { came: Ids; left: Ids }> {
  const found = new Map(flow.steps.map(s => [s.key, { came: [] as Ids, left: [] as Ids }]))
  const waiting = new Set(flow.steps.filter(waits).map(s => s.key))
  for (const r of rows) {
    for (const key of new Set(r.way)) found.get(key)?.came.push(r.id)
    const at = r.way.at(-1)
    const gone = r.state === 'ended' || (r.state === 'flow' && now - r.last > LEFT_MS)
    if (at !== undefined && waiting.has(at) && r.asked === null && gone) found.get(at)?.left.push(r.id)
  }
  return found
}

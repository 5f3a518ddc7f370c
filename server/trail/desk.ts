import { trialOf, wordingsOf } from '#core/points/wordings'
import { gather, gotInTheWay } from '#server/capture/gather'
import { brief } from '#db/brief'
import { appearing, type PlacedRow } from '#db/appearing'
import type { SiteSettings, TrailBatch } from '#db/trail'
import { siteSettings } from '#db/trail'
import { pointByKey } from '#db/points'
import { theOffice } from '#server/capture/office'
import { sayTogether } from '#server/live/say'
import { takeTrail, type NamedPoint } from '#server/trail/take'

/** Screens are told at most so often that visitors did something. */
const TELL_MS = 400
const KEPT_MS = 5_000

function createTrailDesk() {
  const { sql, cache } = theOffice()
  const tell = sayTogether(sql, TELL_MS)
  const looked = new Map<string, NamedPoint | null>()
  let site: { value: Promise<SiteSettings>; until: number } | null = null
  let placed: { value: Promise<PlacedRow[]>; until: number } | null = null

  /** Unknown keys are strangers' words; they are asked for once in a while, too. */
  async function named(keys: string[]): Promise<Map<string, NamedPoint>> {
    if (looked.size > 2_000) looked.clear()
    for (const key of keys) {
      if (looked.has(key)) continue
      const point = await pointByKey(sql, key)
      looked.set(key, point?.live ? { id: point.id, edition: point.live.number, trial: trialOf(point.live.definition), wordings: wordingsOf(point.live.definition).map(w => w.key) } : null)
    }
    return new Map(keys.flatMap(k => looked.get(k) ? [[k, looked.get(k)!] as const] : []))
  }
  setInterval(() => looked.clear(), KEPT_MS).unref()

  const take = gather<{ batches: TrailBatch[]; points: string[] }, null>(async (requests) => {
    const standing = await cache.standing()
    const points = await named([...new Set(requests.flatMap(r => r.points))])
    const now = new Date()
    const leads = await brief(sql, async (tx, commit) => {
      const touched = await takeTrail(tx, standing, requests.flatMap(r => r.batches), points, now)
      await commit()
      return touched
    })
    tell({ leads, trail: true })
    return requests.map(() => null)
  }, gotInTheWay, 200)

  return {
    take,
    /** What the team decided about its site, some seconds old at most. */
    settings(): Promise<SiteSettings> {
      if (!site || Date.now() > site.until) site = { value: siteSettings(sql), until: Date.now() + KEPT_MS }
      return site.value
    },
    /** The points that show by themselves, in order. */
    appearing(): Promise<PlacedRow[]> {
      if (!placed || Date.now() > placed.until) placed = { value: appearing(sql), until: Date.now() + KEPT_MS }
      return placed.value
    },
    forget() {
      site = placed = null
      looked.clear()
    },
  }
}
let desk: ReturnType<typeof createTrailDesk> | undefined
/** The application's one way in for trails. */
export const theTrailDesk = () => desk ??= createTrailDesk()

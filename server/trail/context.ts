import { concerns, type Topics } from '#core/live/topics'
import { experimentOf, variantsOf } from '#core/points/variants'
import { microBatcher, gotInTheWay } from '#server/ingest/micro-batcher'
import { openLane } from '#db/pipelined'
import { isAway, PROMPT } from '#db/client'
import { appearing, type PlacedRow } from '#db/appearing'
import type { SiteSettings, TrailBatch } from '#db/trail'
import { siteSettings } from '#db/trail'
import { livePage, pointByKey } from '#db/points'
import { PATIENCE_MS, applicationContext } from '#server/application-context'
import { sayTogether } from '#server/live/say'
import type { NamedPoint, ToldLook } from '#server/trail/looks'
import { knownByKey } from '#server/trail/known'
import { takeTrail } from '#server/trail/take'
import { setting } from '#server/settings'

/** Screens are told at most so often that visitors did something. */
const TELL_MS = 400
const KEPT_MS = 5_000
const BATCH_MS = 6_000

/** What decides which point appears, and how. */
const IN_APPEARING: Topics = { points: true, appearing: true, styles: true }

interface Kept<T> {
  value: Promise<T>
  until: number
}
/** What is kept, or read anew when it is too old; what could not be read is not kept. */
function fresh<T>(kept: Kept<T> | null, read: () => Promise<T>): Kept<T> {
  if (kept && Date.now() <= kept.until) return kept
  const now: Kept<T> = { value: read(), until: Date.now() + KEPT_MS }
  now.value.catch(() => {
    now.until = 0
  })
  return now
}

function createTrailContext() {
  const { sql, cache } = applicationContext()
  const lane = openLane(setting('CAVLIN_DATABASE'), { name: 'cavlin trails', patience: PROMPT }, BATCH_MS)
  const tell = sayTogether(sql, TELL_MS)
  let site: Kept<SiteSettings> | null = null
  let placed: Kept<PlacedRow[]> | null = null

  async function form(key: string): Promise<NamedPoint | null> {
    const point = await pointByKey(sql, key)
    if (!point?.live) return null
    const {
      id,
      live: { number: edition, definition },
    } = point
    return {
      id,
      edition,
      experiment: experimentOf(definition),
      variants: variantsOf(definition).map(w => w.key),
      questions: new Set(definition.questions.map(q => q.key)),
    }
  }
  async function landing(path: string): Promise<NamedPoint | null> {
    const page = await livePage(sql, path.replace('/p/', ''))
    return page?.live ? { id: page.id, edition: page.live.number, experiment: null, variants: [], questions: new Set() } : null
  }
  /** Unknown keys are strangers' words; they are asked for once in a while, too. */
  const looked = knownByKey(key => (key.startsWith('/') ? landing(key) : form(key)))
  setInterval(looked.forget, KEPT_MS).unref()

  const take = microBatcher<{ batches: TrailBatch[]; points: string[]; looks?: ToldLook[] }, null>(
    async requests => {
      const ruleset = await cache.ruleset()
      const points = await looked.of([...new Set(requests.flatMap(r => r.points))])
      const now = new Date()
      const leads = await lane.run(async (tx, commit) => {
        const touched = await takeTrail(
          tx,
          ruleset,
          requests.flatMap(r => r.batches),
          points,
          now,
          requests.flatMap(r => r.looks ?? []),
        )
        await commit()
        return touched
      })
      tell({ leads, trail: true })
      return requests.map(() => null)
    },
    { mayRepeat: gotInTheWay, isHopeless: isAway, patience: PATIENCE_MS, most: 200 },
  )

  return {
    take,
    /** What the team decided about its site, some seconds old at most. */
    settings(): Promise<SiteSettings> {
      return (site = fresh(site, () => siteSettings(sql))).value
    },
    /** The points that show by themselves, in order. */
    appearing(): Promise<PlacedRow[]> {
      return (placed = fresh(placed, () => appearing(sql))).value
    },
    /** Takes what follows from what changed as not known. */
    forget(change: Topics) {
      if (change.site) site = null
      if (concerns(IN_APPEARING, change)) placed = null
      if (change.points) looked.forget()
    },
  }
}
let batch: ReturnType<typeof createTrailContext> | undefined
/** The application's one way in for trails. */
export const trailContext = () => (batch ??= createTrailContext())

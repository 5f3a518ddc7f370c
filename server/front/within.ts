import type { EventHandler, H3Event } from 'h3'
import { openClient, Unavailable, type Sql } from '#db/line'
import { setting } from '#server/settings'

/** Nobody waits longer for an answer: by then it says that it is not to be had now. */
const LONGEST_MS = 9_000
const LOOK_MS = 250

/** What may take longer as long as the database answers, by name, in ms: tables that are brought in or taken away, and what reads through the whole trail. */
const LONGER: [method: string, path: RegExp, ms: number][] = [
  ['POST', /^\/api\/team\/lists\/[^/]+\/people$/, 300_000],
  ['GET', /^\/api\/team\/(segments|leads|leads\/alike|reports|places)$/, 60_000],
  ['POST', /^\/api\/team\/segments\/count$/, 60_000],
  ['POST', /^\/api\/v1\/scorecards\/(learn|score)$/, 60_000],
  ['GET', /^\/api\/team\/scorecard\/(rules|proof|sent-back)$/, 60_000],
  ['GET', /^\/api\/v1\/leads$/, 60_000],
  ['POST', /^\/api\/team\/lists\/[^/]+\/imports\/[^/]+\/undo$/, 300_000],
  ['POST', /^\/api\/team\/points\/[^/]+\/(results|respondents|ends)$/, 60_000],
  ['GET', /^\/api\/team\/(points\/[^/]+|leads)\/take-away$/, 600_000],
  ['POST', /^\/api\/team\/points\/[^/]+\/publish$/, 60_000],
]
/** Open for as long as somebody looks. */
const ENDLESS = ['/api/team/live', '/w/chats/live']

interface UnderWay {
  event: H3Event
  since: number
  fail: (error: Error) => void
}
const underWay = new Set<UnderWay>()
let looking: NodeJS.Timeout | undefined

/** Sees to it that each request is answered in time, whatever it waits for. */
export function withinTime(handler: EventHandler): EventHandler {
  looking ??= setInterval(look, LOOK_MS).unref()
  return ((event: H3Event) => {
    const work = handler(event) as unknown
    if (!(work instanceof Promise)) return work
    return new Promise((done, failed) => {
      const one: UnderWay = { event, since: Date.now(), fail: failed }
      underWay.add(one)
      work.then(
        answer => {
          underWay.delete(one)
          done(answer)
        },
        error => {
          underWay.delete(one)
          failed(error)
        },
      )
    })
  }) as EventHandler
}

function look(): void {
  const now = Date.now()
  for (const one of underWay) {
    const { event, since } = one
    const { req, res } = event.node
    // A body that comes has a time of its own (`server/body.ts`).
    if (!req.complete && req.readableFlowing) one.since = now
    if (now - since < LONGEST_MS || res.headersSent) continue
    const path = event.path.split('?')[0]!
    if (ENDLESS.includes(path)) underWay.delete(one)
    else {
      const longer = LONGER.find(([method, like]) => method === event.method && like.test(path))?.[2]
      if (!longer || now - since > longer) tooLate(one)
      else void answers().then(well => well || tooLate(one))
    }
  }
}

function tooLate(one: UnderWay): void {
  if (!underWay.delete(one)) return
  one.fail(new Unavailable('no answer in time'))
}

let probe: Sql | undefined
let last: { at: number; well: Promise<boolean> } | undefined
/** Whether the database answers; asked once a second at most. */
function answers(): Promise<boolean> {
  if (last && Date.now() - last.at < 1000) return last.well
  probe ??= openClient(setting('CAVLIN_DATABASE'), { name: 'cavlin probe', max: 1, patience: { statement: 1500, silent: 2000 } })
  const slow = new Promise<false>(done => {
    setTimeout(() => done(false), 2500).unref()
  })
  const well = Promise.race([
    probe`select 1`.then(
      () => true,
      () => false,
    ),
    slow,
  ])
  last = { at: Date.now(), well }
  return well
}

import { defineEventHandler, sendNoContent } from 'h3'
import { isbot } from 'isbot'
import { readTyped, typedInto, typedOnSite } from '#core/unfinished/typed'
import { check } from '#core/validate'
import { retried } from '#server/ingest/micro-batcher'
import { applicationContext } from '#server/application-context'
import { limit } from '#server/limits'
import { say } from '#server/live/say'
import { problem } from '#server/problem'
import { browserId } from '#server/trail/browser'
import { trailContext } from '#server/trail/context'
import { takeTyped, TypedBody } from '#server/unfinished/take'
import { header, parseJson, readText } from '#server/wire'

/** What a visitor who agreed has typed and not sent. 204 means that it is on disk, or that it is not to be kept. */
export default defineEventHandler(async event => {
  await limit(event, 'views')
  const { value, flaws } = check(TypedBody, parseJson(await readText(event)))
  if (!value) throw problem(422, 'Some fields are wrong; see the list.', flaws)
  if (Boolean(value.point) === Boolean(value.form))
    throw problem(422, 'Some fields are wrong; see the list.', [
      { field: 'point', message: 'Send the key of a point, or the name of a form of the site’s: one of them.' },
    ])
  const { origins, keepUnfinished } = await trailContext().settings()
  const from = header(event, 'origin')
  if (origins.length && from && !origins.includes(from))
    throw problem(
      403,
      'This site is not among those whose visitors are followed. Whoever looks after Cavlin can add it under Settings, The site.',
    )
  const agent = header(event, 'user-agent') ?? ''
  if (!keepUnfinished || !agent || isbot(agent)) return sendNoContent(event)
  const { sql, cache } = applicationContext()
  const ruleset = await cache.ruleset()
  const point = value.point ? await cache.point(value.point) : undefined
  if (value.point && !point?.live) throw problem(404, 'There is no such form. Check the key.')
  const shown = point && ((await cache.edition(point, value.edition ?? point.live!.number)) ?? point.live!)
  const raw = readTyped(value.answers)
  const typed = shown
    ? typedInto(shown.definition.questions, raw, value.settled, ruleset.properties, ruleset.reading)
    : typedOnSite(raw, value.settled, ruleset.properties, ruleset.reading)
  if (!Object.keys(typed.answers).length) return sendNoContent(event)
  const at = new Date()
  const { origin, pathname } = new URL(value.page)
  const write = {
    id: value.id,
    visitor: browserId(value.visitor),
    point: point?.id ?? null,
    edition: shown?.number ?? null,
    form: value.form ?? null,
    began: new Date(at.getTime() - value.since),
    at,
    answers: typed.answers,
    page: origin + pathname,
    turn: value.turn,
    sent: Boolean(value.sent) && !point,
  }
  const leads = await retried(() => sql.begin(tx => takeTyped(tx, ruleset, write, typed)))
  if (leads.length) await say(sql, { leads })
  return sendNoContent(event)
})

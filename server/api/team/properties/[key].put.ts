import { defineEventHandler, sendNoContent } from 'h3'
import { changeProperty } from '#db/properties'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { choicesFor, mayRetire, PropertyBody } from '#server/properties'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

export default defineEventHandler(async event => {
  await memberOf(event, 'edit properties')
  const body = await readChecked(event, PropertyBody)
  const { sql, cache } = applicationContext()
  const property = (await cache.ruleset()).properties.find(p => p.key === event.context.params?.key)
  if (!property) throw problem(404, 'There is no such property.')
  if (body.retired) mayRetire(property.key)
  await changeProperty(sql, {
    key: property.key,
    label: body.label.trim(),
    sensitivity: body.sensitivity,
    choices: choicesFor(property.kind, body.choices ?? property.choices),
    retired: body.retired ?? property.retired,
  })
  await changed({ properties: true })
  return sendNoContent(event)
})

import { defineEventHandler, setResponseStatus } from 'h3'
import { freshKey } from '#core/points/definition'
import { addProperty } from '#db/properties'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { choicesFor, NewPropertyBody } from '#server/properties'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

/** A new property. Its key comes from its name and stays. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit properties')
  const body = await readChecked(event, NewPropertyBody)
  const { sql, cache } = applicationContext()
  const { properties } = await cache.ruleset()
  const label = body.label.trim()
  if (properties.some(p => p.label.toLowerCase() === label.toLowerCase()))
    throw problem(422, 'Another property has this name.', [
      { field: 'label', message: 'Another property has this name. Choose one that tells them apart.' },
    ])
  const key = freshKey(
    label,
    properties.map(p => p.key),
  )
  if (
    !(await addProperty(sql, { key, label, kind: body.kind, sensitivity: body.sensitivity, choices: choicesFor(body.kind, body.choices) }))
  )
    throw problem(409, 'Somebody else made this property in the meantime. Look at the list.')
  await changed({ properties: true })
  setResponseStatus(event, 201)
  return { key }
})

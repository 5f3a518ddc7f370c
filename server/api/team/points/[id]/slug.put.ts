import { Length, Matches } from 'class-validator'
import { defineEventHandler } from 'h3'
import { changeSlug } from '#db/points'
import { anyPoint } from '#server/capture/editing'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class NewAddress {
  @Length(1, 80)
  @Matches(/^[a-z0-9]+(-[a-z0-9]+)*$/, { message: 'An address has small letters, digits, and hyphens between them' })
  slug!: string
}

/** Gives a point another address of its own; whoever has the old one is led there. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit points')
  const { slug } = await readChecked(event, NewAddress)
  const point = await anyPoint(event)
  const { sql } = applicationContext()
  if (!(await changeSlug(sql, point.id, slug)))
    throw problem(409, 'Something else has this address, or had it. Choose another.', [
      { field: 'slug', message: 'Something else has this address, or had it. Choose another.' },
    ])
  await changed({ points: [point.id] })
  return { slug }
})

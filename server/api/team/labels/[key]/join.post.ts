import { IsString, Length } from 'class-validator'
import { defineEventHandler } from 'h3'
import { joinLabels } from '#server/scoring/join-labels'
import { applicationContext } from '#server/application-context'
import { changed } from '#server/live/changed'
import { say } from '#server/live/say'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Into {
  @IsString() @Length(1, 60) into!: string
}

/** Joins a label with another one: whoever carries it, and whatever gives it, means the other from now on. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit scorecard')
  const { into } = await readChecked(event, Into)
  const { sql } = applicationContext()
  await joinLabels(sql, event.context.params?.key ?? '', into, member.id)
  await changed({ scorecard: true, properties: true, leads: true, segments: true, points: true, drafts: true })
  await say(sql, { jobs: true })
  return { label: into }
})

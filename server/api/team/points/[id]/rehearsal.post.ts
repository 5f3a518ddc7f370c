import { IsBoolean, IsObject, IsOptional } from 'class-validator'
import { defineEventHandler } from 'h3'
import { insertOwn } from '#db/deliveries'
import { requirePoint } from '#server/capture/editing'
import { rehearse } from '#server/capture/rehearse'
import { database } from '#server/database'
import { newId } from '#server/ids'
import { say } from '#server/live/say'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Rehearsal {
  @IsObject({ message: 'Send the answers as an object: question key and value' }) answers!: Record<string, unknown>
  /** Mails the member what the owner would be mailed. */
  @IsOptional() @IsBoolean() mail?: boolean
}

export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit points')
  const { answers, mail } = await readChecked(event, Rehearsal)
  const view = await rehearse(await requirePoint(event), answers)
  if (mail && view.mail) {
    await insertOwn(database(), { id: newId(), kind: 'test', to: { name: member.name, address: member.email }, ...view.mail })
    await say(database(), { jobs: true })
  }
  return view
})

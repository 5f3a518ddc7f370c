import { IsBoolean, IsObject, IsOptional } from 'class-validator'
import { defineEventHandler } from 'h3'
import { requirePoint } from '#server/capture/editing'
import { rehearse } from '#server/capture/rehearse'
import { database } from '#server/database'
import { enqueueTestMail } from '#server/jobs/queue'
import { applicationContext } from '#server/application-context'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Rehearsal {
  @IsObject({ message: 'Send the answers as an object: question key and value' }) answers!: Record<string, unknown>
  /** Mails the member what the owner would be mailed. */
  @IsOptional() @IsBoolean() mail?: boolean
}

export default defineEventHandler(async (event) => {
  const member = await memberOf(event, 'edit points')
  const { answers, mail } = await readChecked(event, Rehearsal)
  const view = await rehearse(await requirePoint(event), answers)
  if (mail && view.mail) await enqueueTestMail(applicationContext().boss, database(), { to: { name: member.name, address: member.email }, ...view.mail })
  return view
})

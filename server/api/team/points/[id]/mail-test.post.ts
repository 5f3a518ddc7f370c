import { ArrayMaxSize, ArrayMinSize, IsString, MaxLength, MinLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { mailLook } from '#core/mails/look'
import { oneLine } from '#core/text'
import { ListOf } from '#core/validate'
import { insertOwn } from '#db/deliveries'
import { requirePoint } from '#server/capture/editing'
import { database } from '#server/database'
import { newId } from '#server/ids'
import { say } from '#server/live/say'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

/** A mail as it was filled in for somebody. */
class Filled {
  @IsString() @MaxLength(400) subject!: string
  /** Markdown. */
  @IsString() @MinLength(1, { message: 'The mail has no text.' }) @MaxLength(60_000) text!: string
}
class Test {
  @ListOf(() => Filled) @ArrayMinSize(1) @ArrayMaxSize(7) mails!: Filled[]
}

/** Sends mails of a working copy to whoever asks, and to nobody else: as they look, and as whom they come. */
export default defineEventHandler(async (event): Promise<{ to: string }> => {
  const member = await memberOf(event, 'edit points')
  const { mails } = await readChecked(event, Test)
  const { theme, mailing, language } = (await requirePoint(event)).workingCopy
  const as = { look: mailLook(theme, language), name: mailing.name, reply: mailing.reply }
  for (const { subject, text } of mails)
    await insertOwn(database(), {
      id: newId(),
      kind: 'test',
      to: { name: member.name, address: member.email },
      subject: oneLine(subject, 300),
      text,
      as,
    })
  await say(database(), { jobs: true })
  return { to: member.email }
})

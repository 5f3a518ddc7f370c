import { ArrayMaxSize, IsArray, IsOptional, IsString, IsUUID, Length, Matches, MaxLength } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { MOST_LEAD_FILES } from '#core/files/lead-file'
import { applicationContext } from '#server/application-context'
import { writeTo } from '#server/follow-up/personal-mail'
import { say } from '#server/live/say'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class MailBody {
  @IsString() @Length(1, 200) @Matches(/^[^\r\n]*\S[^\r\n]*$/, { message: 'Say what it is about, in one line' }) subject!: string
  @IsString() @MaxLength(20_000) @Matches(/\S/, { message: 'The mail is empty. Write something' }) text!: string
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MOST_LEAD_FILES, { message: `At most ${MOST_LEAD_FILES} files go along` })
  @IsUUID('all', { each: true })
  files?: string[]
}

/** One of us writes to one person; 202: it is on its way. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const lead = idFrom(event)
  const { subject, text, files } = await readChecked(event, MailBody)
  const { sql, cache } = applicationContext()
  const id = await writeTo(sql, await cache.ruleset(), lead, member, { subject: subject.trim(), text, files: files ?? [] })
  await say(sql, { leads: [lead], jobs: true })
  setResponseStatus(event, 202)
  return { id }
})

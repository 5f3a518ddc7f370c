import { IsString, MaxLength } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { LIMITS } from '#core/points/limits'
import { speakFirst } from '#server/chat/spoken'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class Words {
  @IsString() @MaxLength(LIMITS.answer) text!: string
}

/** Speaks first to whoever is on the site. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const { text } = await readChecked(event, Words)
  const id = await speakFirst(idFrom(event), member, text)
  setResponseStatus(event, 201)
  return { id }
})

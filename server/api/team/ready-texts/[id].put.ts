import { IsISO8601, IsOptional, IsString, Matches, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { flawInPersonal } from '#core/mails/personal'
import { keepReadyText } from '#db/ready-texts'
import { database } from '#server/database'
import { isTaken } from '#server/follow-up/taken'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

class ReadyTextBody {
  @IsString() @MaxLength(60) @Matches(/\S/, { message: 'Give the text a name' }) name!: string
  @IsString() @MaxLength(200) @Matches(/^[^\r\n]*\S[^\r\n]*$/, { message: 'Say what it is about, in one line' }) subject!: string
  @IsString() @MaxLength(20_000) @Matches(/\S/, { message: 'The text is empty. Write something' }) body!: string
  /** When the one that was seen was written; left out: it is a new one. */
  @IsOptional() @IsISO8601({ strict: true }) was?: string
}

/** Keeps a text that mails begin with: a new one under an id of the sender's, or one that is there. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'work leads')
  const { name, subject, body, was } = await readChecked(event, ReadyTextBody)
  for (const [field, text] of [
    ['subject', subject],
    ['body', body],
  ] as const) {
    const flaw = flawInPersonal(text)
    if (flaw) throw problem(422, flaw, [{ field, message: flaw }])
  }
  const kept = await isTaken(
    keepReadyText(
      database(),
      { id: idFrom(event), name: name.trim(), subject: subject.trim(), body },
      was ? new Date(was) : null,
      member.id,
    ),
  )
  if (kept === 'taken') throw problem(422, 'Another text has this name.', [{ field: 'name', message: 'Choose another name.' }])
  if (kept === 'many') throw problem(422, 'There are too many texts. Remove one first.')
  if (kept === 'other')
    throw problem(409, 'A colleague changed this text meanwhile, or removed it. Yours is still here: copy it, open theirs, and choose.')
  return { ok: true }
})

import { IsISO8601, IsOptional, IsString, Matches, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { keepNote } from '#db/notes'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

const SAYS = { message: 'Write something.' }
class Note {
  @IsString() @MaxLength(120) @Matches(/\S/, SAYS) title!: string
  @IsString() @MaxLength(4000) @Matches(/\S/, SAYS) body!: string
  @IsOptional() @IsString() @MaxLength(300) source?: string | null
  /** When it was changed last, as whoever changes it read it; left out of a new one. */
  @IsOptional() @IsISO8601({ strict: true }) was?: string | null
}

/** Keeps a note. */
export default defineEventHandler(async event => {
  const member = await memberOf(event, 'edit notes')
  const id = idFrom(event)
  const { title, body, source, was } = await readChecked(event, Note)
  try {
    const at = await keepNote(
      database(),
      { id, title: title.trim(), body: body.trim(), source: source ?? null },
      was ? new Date(was) : null,
      member.id,
      new Date(),
    )
    if (!at) throw problem(409, 'Somebody else has changed this note meanwhile. What you wrote is still here; load it again beside.')
    await changed({ notes: true })
    return { changedAt: at.toISOString() }
  } catch (error) {
    if ((error as { code?: string }).code !== '23505') throw error
    throw problem(409, `Another note is called “${title.trim()}”.`, [
      { field: 'title', message: 'Another note has this title. Answers name it: choose one that tells them apart.' },
    ])
  }
})

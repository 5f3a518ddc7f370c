import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator'
import { defineEventHandler, sendNoContent } from 'h3'
import { LANGUAGE_KEYS, type Language } from '#core/languages/language'
import { houseStyles } from '#db/styles'
import { saveSite } from '#db/trail'
import { database } from '#server/database'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class SiteBody {
  @IsIn(['own', 'site', 'not_needed']) agreement!: 'own' | 'site' | 'not_needed'
  @IsString() @MaxLength(600) notice!: string
  @IsOptional() @IsUUID() style!: string | null
  @IsArray() @ArrayMaxSize(50) @ArrayUnique() @IsString({ each: true }) @MaxLength(300, { each: true }) origins!: string[]
  @IsArray()
  @ArrayMaxSize(30)
  @ArrayUnique()
  @Matches(/^[\w.-]{1,60}$/, { each: true, message: 'A parameter’s name has letters, digits, points, hyphens and underscores, at most 60' })
  parameters!: string[]
  @IsInt() @Min(1) @Max(120) retentionMonths!: number
  @IsBoolean() keepUnfinished!: boolean
  @IsBoolean() mailUnfinished!: boolean
  /** Of the notice; English where nothing is said. */
  @IsOptional() @IsIn(LANGUAGE_KEYS) language?: Language
}

/** What the team decides about its site. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit site')
  const body = await readChecked(event, SiteBody)
  const wrong = body.origins.findIndex(o => !URL.canParse(o) || !/^https?:$/.test(new URL(o).protocol) || new URL(o).origin !== o)
  if (wrong >= 0)
    throw problem(422, 'Some fields are wrong; see the list.', [
      { field: `origins.${wrong}`, message: `“${body.origins[wrong]}” is not a site. It should look like https://firm.example.` },
    ])
  if (body.agreement === 'own' && !body.notice.trim())
    throw problem(422, 'Some fields are wrong; see the list.', [{ field: 'notice', message: 'Say what visitors are asked.' }])
  if (body.style && !(await houseStyles(database())).some(s => s.id === body.style))
    throw problem(422, 'Some fields are wrong; see the list.', [{ field: 'style', message: 'There is no such house style.' }])
  await saveSite(database(), { ...body, style: body.style ?? null, language: body.language ?? 'en', notice: body.notice.trim() })
  await changed({ site: true })
  return sendNoContent(event)
})

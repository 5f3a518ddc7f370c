import { ArrayMaxSize, IsIn, IsInt, IsObject, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator'
import { defineEventHandler } from 'h3'
import { LANGUAGE_KEYS, type Language } from '#core/languages/language'
import { readAnswers } from '#core/points/answers'
import { LIMITS } from '#core/points/definition'
import { inTongue, languagesOf } from '#core/points/translations'
import { saidMarkup } from '#core/quiz/markup'
import { inOrder } from '#core/quiz/way'
import { check } from '#core/validate'
import { sayIn } from '#core/languages/say'
import { applicationContext } from '#server/application-context'
import { requireLivePoint } from '#server/capture/require-live-point'
import { limit } from '#server/limits'
import { problem } from '#server/problem'
import { parseJson, readText } from '#server/wire'

class SaidBody {
  @IsObject() answers!: Record<string, unknown>
  @ArrayMaxSize(LIMITS.questions) @IsString({ each: true }) @MaxLength(50, { each: true }) questions!: string[]
  @IsOptional() @IsInt() @Min(1) @Max(1_000_000) edition?: number | null
  @IsOptional() @IsIn(LANGUAGE_KEYS) language?: Language | null
}

/** What a quiz says of answers right after they were given, where it does so; nothing is kept. What is right is told of what was answered only. */
export default defineEventHandler(async event => {
  await limit(event, 'reads')
  const point = await requireLivePoint(event)
  const { value, flaws } = check(SaidBody, parseJson(await readText(event)))
  if (!value) throw problem(422, 'Some fields are wrong; see the list.', flaws)
  const { cache } = applicationContext()
  const edition = value.edition ? await cache.edition(point, value.edition) : null
  const { definition: plain } = edition ?? point.live
  const tongue = languagesOf(plain).find(l => l === value.language) ?? plain.language
  const definition = inTongue(plain, tongue)
  if (definition.quiz?.says !== 'each') return { said: {} }
  const { reading } = await cache.ruleset()
  const { answers } = readAnswers(inOrder(definition.questions, definition.quiz), value.answers, { ...reading, say: sayIn(tongue) })
  const said = value.questions.flatMap(key => {
    const q = definition.questions.find(o => o.key === key)
    const html = q && Object.hasOwn(answers, key) ? saidMarkup(definition, q, answers[key]) : ''
    return html ? [[key, html] as const] : []
  })
  return { said: Object.fromEntries(said) }
})

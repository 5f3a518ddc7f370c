import { IsISO8601, IsOptional, IsString, IsUUID, MaxLength } from 'class-validator'
import { defineEventHandler } from 'h3'
import { nameOf } from '#core/leads/lead'
import { withMade } from '#core/results/of-quiz'
import type { RespondentsView } from '#core/team'
import { Nested } from '#core/validate'
import { respondentsBefore } from '#db/results'
import { applicationContext } from '#server/application-context'
import { longReadings } from '#server/database'
import { everAsked, entriesOf, GroupBody, ofAll, pointToRead } from '#server/results/read'
import { memberOf } from '#server/session'
import { idFrom, readChecked } from '#server/wire'

const AT_ONCE = 50

class AnswerBody {
  @IsString() @MaxLength(200) question!: string
  @IsString() @MaxLength(600) value!: string
}
class Asked extends GroupBody {
  /** Only who answered so: the value of a choice. */
  @IsOptional() @Nested(() => AnswerBody) answer?: AnswerBody

  /** The last one that is there already: when it came, and its id. */
  @IsOptional() @IsISO8601() at?: string
  @IsOptional() @IsUUID() id?: string
}

/** Who answered, the latest first; as in all lists without what is sensitive. */
export default defineEventHandler(async (event): Promise<RespondentsView> => {
  await memberOf(event)
  const { sql, cache } = applicationContext()
  const asked = await readChecked(event, Asked)
  const point = await pointToRead(sql, idFrom(event))
  const ruleset = await cache.ruleset()
  const of = { ...entriesOf(point, asked, ruleset), answer: asked.answer }
  const questions = ofAll((await everAsked(sql, point)).questions, ruleset)
  const before = asked.at && asked.id ? { at: new Date(asked.at), id: asked.id } : null
  const rows = await respondentsBefore(of.condition ? longReadings() : sql, of, before, AT_ONCE + 1)
  return {
    more: rows.length > AT_ONCE,
    respondents: rows
      .slice(0, AT_ONCE)
      .map(r => ({ r, said: withMade(r.answers, r.judged) }))
      .map(({ r, said }) => ({
        id: r.id,
        at: r.at.toISOString(),
        lead: r.leadId,
        name: nameOf({ ...r, properties: {} }),
        company: r.company,
        label: r.label,
        edition: r.edition,
        page: r.page,
        tookMs: r.tookMs,
        answers: Object.fromEntries(questions.flatMap(q => (said[q.key] === undefined ? [] : [[q.key, said[q.key]!]]))),
      })),
  }
})

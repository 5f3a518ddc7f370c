import { ArrayMaxSize, IsArray, IsString, IsUUID } from 'class-validator'
import { defineEventHandler } from 'h3'
import { ABOUT_VISITOR } from '#core/conditions/askable'
import { leadsOfVisitors, visitorOfVisit } from '#db/trail'
import { judge } from '#server/appearing/audience-token'
import { applicationContext } from '#server/application-context'
import { problem } from '#server/problem'
import { readTests } from '#server/segments/read'
import { memberOf } from '#server/session'
import { readChecked } from '#server/wire'

class Asked {
  @IsUUID() visit!: string
  /** The key of the point, for whether they answered it. */
  @IsString() point!: string
  @IsArray() @ArrayMaxSize(50) tests!: unknown[]
}

/** Which of the tests that only we can judge hold for whoever a visit belongs to. */
export default defineEventHandler(async event => {
  await memberOf(event)
  const { visit, point, tests } = await readChecked(event, Asked)
  const { sql, cache } = applicationContext()
  const visitor = await visitorOfVisit(sql, visit)
  if (!visitor) throw problem(404, 'There is no such visit.')
  const lead = (await leadsOfVisitors(sql, [visitor])).get(visitor) ?? null
  const ruleset = await cache.ruleset()
  const said = await judge(
    sql,
    [{ key: point, tests: tests.map(test => readTests(test, ruleset, ABOUT_VISITOR)) }],
    ruleset.segments,
    visitor,
    lead,
    Date.now(),
  )
  return { said: said[point] ?? [] }
})

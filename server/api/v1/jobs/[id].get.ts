import { defineEventHandler } from 'h3'
import { learnJob } from '#db/learn-jobs'
import { requireKey } from '#server/api-keys'
import { applicationContext } from '#server/application-context'
import { problem } from '#server/problem'
import { learnedInWords } from '#server/scoring/suggestion'
import { idFrom } from '#server/wire'

/** How far a job has come, and what it came to. */
export default defineEventHandler(async event => {
  await requireKey(event, 'scorecards:learn')
  const job = await learnJob(applicationContext().sql, idFrom(event))
  // What a member asked for is the team's.
  if (!job || job.madeBy !== null) throw problem(404, 'There is no such job.')
  return { id: job.id, state: job.state, progress: job.progress, problem: job.problem, result: job.result && learnedInWords(job.result) }
})

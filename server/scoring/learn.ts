import { Worker } from 'node:worker_threads'
import type { Learned } from '#core/learning/learn'
import { beatLearnJob, endLearnJob, failLearnJob, takeLearnJob, type LearnJob } from '#db/learn-jobs'
import type { Sql } from '#db/client'
import type { Lesson, Told } from '#server/jobs/learner'
import { whyItFailed } from '#server/log'
import { readRuleset } from '#server/ruleset'
import { comparedWith, rowsOfLeads } from '#server/scoring/learn-rows'

const BEAT_MS = 5_000

/**
 * Works on the learning that waits longest, if any does.
 * @param learner the file of the thread
 * @returns whether there was one
 */
export async function workLearning(sql: Sql, learner: URL, tell: () => void): Promise<boolean> {
  const job = await takeLearnJob(sql)
  if (!job?.input) return false
  let progress = 0
  const beat = setInterval(() => void beatLearnJob(sql, job.id, progress).then(tell, () => {}), BEAT_MS)
  try {
    const lesson = await lessonOf(sql, job)
    const learned = await learnIn(learner, { ...lesson, ...job.options }, share => {
      progress = share
      void beatLearnJob(sql, job.id, share).then(tell, () => {})
    })
    await endLearnJob(sql, job.id, { ...learned, ...(lesson.scores && { live: comparedWith(lesson.scores, lesson.outcome) }) })
  } catch (error) {
    await failLearnJob(sql, job.id, whyItFailed(error))
  } finally {
    clearInterval(beat)
  }
  tell()
  return true
}

async function lessonOf(sql: Sql, { input }: LearnJob): Promise<Pick<Lesson, 'rows' | 'outcome' | 'counts'> & { scores?: number[] }> {
  if ('rows' in input!) return input
  return { ...(await rowsOfLeads(sql, await readRuleset(sql), input!, Date.now())), counts: 'did.' }
}

/** @throws RangeError where the rows cannot be learned from, in words */
function learnIn(file: URL, lesson: Lesson, onProgress: (share: number) => void): Promise<Learned> {
  return new Promise((done, fail) => {
    const thread = new Worker(file, { workerData: lesson, resourceLimits: { maxOldGenerationSizeMb: 2048 } })
    thread.on('message', (told: Told) => {
      if ('progress' in told) onProgress(told.progress)
      else if ('learned' in told) done(told.learned)
      else fail(new RangeError(told.problem))
    })
    thread.on('error', fail)
    thread.on('exit', code => fail(new Error(`Learning ended too early (${code}).`)))
  })
}

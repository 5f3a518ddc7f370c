import { parentPort, workerData } from 'node:worker_threads'
import { learnCard, type Learned } from '#core/learning/learn'
import type { Row } from '#core/learning/table'

/** A thread that learns one scorecard: whoever asked goes on with what else there is to do. */
export interface Lesson {
  rows: Row[]
  outcome: number[]
  maxRules: number
  seed: number
  counts?: string
}
export type Told = { progress: number } | { learned: Learned } | { problem: string }

const { rows, outcome, maxRules, seed, counts } = workerData as Lesson
const tell = (told: Told) => parentPort!.postMessage(told)
try {
  tell({ learned: learnCard(rows, outcome, { maxRules, seed, counts, onProgress: progress => tell({ progress }) }) })
} catch (error) {
  // What is wrong with the rows is said in words; anything else is a fault of ours.
  if (!(error instanceof RangeError)) throw error
  tell({ problem: error.message })
}

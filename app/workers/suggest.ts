import load from 'highs'
import wasm from 'highs/runtime?url'
import type { Question } from '#core/points/definition'
import type { Quiz } from '#core/quiz/shapes'
import { solverOf } from '#core/quiz/solver'
import { suggestWeights, type Suggestion } from '#core/quiz/suggest'

addEventListener('message', async ({ data }: MessageEvent<{ quiz: Quiz; questions: Question[] }>) => {
  const solve = solverOf(await load({ locateFile: () => wasm }))
  postMessage(suggestWeights(data.quiz, data.questions, data.quiz.described, solve) satisfies Suggestion)
})

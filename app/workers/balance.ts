import { balanceOf, type Balance } from '#core/quiz/balance'
import type { Question } from '#core/points/definition'
import type { Quiz } from '#core/quiz/shapes'

export interface BalanceAsked {
  quiz: Quiz
  questions: Question[]
}
addEventListener('message', ({ data }: MessageEvent<BalanceAsked>) => {
  postMessage(balanceOf(data.quiz, data.questions, Math.random) satisfies Balance)
})

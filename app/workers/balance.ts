import { balanceOf, type Balance } from '#core/quiz/balance'
import type { Question } from '#core/points/definition'
import type { Quiz } from '#core/quiz/shapes'

export interface BalanceAsked {
  quiz: Quiz
  questions: Question[]
  /** By question, how often each choice was really chosen; null: each is as likely. */
  chosen: Map<string, Map<string, number>> | null
}
addEventListener('message', ({ data }: MessageEvent<BalanceAsked>) => {
  postMessage(
    balanceOf(data.quiz, data.questions, Math.random, { chosen: data.chosen ? key => data.chosen!.get(key) : undefined }) satisfies Balance,
  )
})

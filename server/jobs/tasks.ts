import type { Sql } from '#db/client'
import { forgetAllowances } from '#db/allowances'
import { forgetOwn, forgetSenders } from '#db/deliveries'
import { forgetProofs } from '#db/proofs'
import { forgetRefused } from '#db/review'
import { forgetSessions } from '#db/sessions'
import { lasting } from '#server/session'
import { applyRetention } from '#server/trail/retention'

const DAY = 86_400_000
/** What was refused can be let in for so many days. */
const REFUSED_DAYS = 7

/** What is done every hour, each by itself. The names are those of their queues. */
export const TASKS: Record<string, (sql: Sql, now: Date) => Promise<unknown>> = {
  retention: (sql, now) => applyRetention(sql, now),
  forget_proofs: (sql, now) => forgetProofs(sql, now),
  forget_sessions: sql => forgetSessions(sql, lasting()),
  forget_allowances: sql => forgetAllowances(sql),
  forget_senders: sql => forgetSenders(sql),
  forget_refused: (sql, now) => forgetRefused(sql, new Date(now.getTime() - REFUSED_DAYS * DAY)),
  forget_own_mails: sql => forgetOwn(sql),
}

/** What each task does, for those who look after the house. */
export const TASK_WORDS: Record<keyof typeof TASKS, string> = {
  retention: 'Lets go of what visitors did too long ago',
  forget_proofs: 'Forgets proofs that were used up',
  forget_sessions: 'Ends sessions that are too old',
  forget_allowances: 'Forgets who asked how often',
  forget_senders: 'Forgets who sent what a mail answers',
  forget_refused: 'Lets go of refused entries',
  forget_own_mails: 'Lets go of test mails and alerts',
}

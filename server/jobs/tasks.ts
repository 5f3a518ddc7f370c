import { IMPORT_DAYS } from '#core/lists/people'
import type { Sql } from '#db/client'
import { forgetAllowances } from '#db/allowances'
import { endStale } from '#db/conversations'
import { forgetOwn, forgetSenders } from '#db/deliveries'
import { forgetUnusedFiles } from '#db/files'
import { forgetRows } from '#db/imports'
import { forgetLearnJobs } from '#db/learn-jobs'
import { forgetProofs } from '#db/proofs'
import { forgetRefused } from '#db/review'
import { forgetSessions } from '#db/sessions'
import { lasting } from '#server/session'
import { applyRetention } from '#server/trail/retention'

const DAY = 86_400_000
/** What was refused can be let in for so many days. */
const REFUSED_DAYS = 7
/** A program fetches what it had learned within so many days. */
const LEARNED_DAYS = 7

interface Task {
  /** What it does, for those who look after the house. */
  says: string
  work: (sql: Sql, now: Date) => Promise<unknown>
}
/** What is done every hour, each by itself. The names are those of their queues. */
export const TASKS: Record<string, Task> = {
  retention: { says: 'Lets go of what visitors did too long ago', work: applyRetention },
  forget_proofs: { says: 'Forgets proofs that were used up', work: forgetProofs },
  forget_sessions: { says: 'Ends sessions that are too old', work: sql => forgetSessions(sql, lasting()) },
  forget_allowances: { says: 'Forgets who asked how often', work: sql => forgetAllowances(sql) },
  forget_senders: { says: 'Forgets who sent what a mail answers', work: sql => forgetSenders(sql) },
  forget_refused: {
    says: 'Lets go of refused entries',
    work: (sql, now) => forgetRefused(sql, new Date(now.getTime() - REFUSED_DAYS * DAY)),
  },
  forget_imports: {
    says: 'Lets go of what it takes to take a table back',
    work: (sql, now) => forgetRows(sql, new Date(now.getTime() - IMPORT_DAYS * DAY)),
  },
  end_talks: {
    says: 'Ends conversations that nobody went on with for a day',
    work: (sql, now) => endStale(sql, new Date(now.getTime() - DAY)),
  },
  forget_learned: {
    says: 'Lets go of what programs had learned',
    work: (sql, now) => forgetLearnJobs(sql, new Date(now.getTime() - LEARNED_DAYS * DAY)),
  },
  forget_unused_files: {
    says: 'Lets go of files that no note and no mail took',
    work: (sql, now) => forgetUnusedFiles(sql, new Date(now.getTime() - DAY)),
  },
  forget_own_mails: { says: 'Lets go of test mails and alerts', work: sql => forgetOwn(sql) },
}

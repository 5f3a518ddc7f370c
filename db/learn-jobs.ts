import type { Learned } from '#core/learning/learn'
import type { Row } from '#core/learning/table'
import type { ComparedCard } from '#core/team'
import type { Db } from '#db/client'

/** Rows with their outcomes, or whose leads: those of a segment (null: all) who came in so many days, judged some days after they came. */
export type LearnInput =
  { rows: Row[]; outcome: number[] } | { segment: string | null; goal: string; days: number; span: number; sensitive: boolean }
export interface LearnJobOptions {
  maxRules: number
  seed: number
}
export type LearnState = 'waiting' | 'working' | 'done' | 'failed'
export interface LearnJob {
  id: string
  madeAt: Date
  madeBy: string | null
  input: LearnInput | null
  options: LearnJobOptions
  state: LearnState
  progress: number
  result: (Learned & { live?: ComparedCard }) | null
  problem: string | null
  endedAt: Date | null
}

/** So many may wait at once. */
export const MOST_WAITING = 4
const SILENT_S = 60

/** @returns false where too many wait */
export async function addLearnJob(
  db: Db,
  job: Pick<LearnJob, 'id' | 'options'> & { input: LearnInput },
  by: string | null,
): Promise<boolean> {
  const [row] = await db`insert into learn_job (id, made_by, input, options, state)
    select ${job.id}, ${by}, ${job.input as never}, ${job.options as never}, 'waiting'
    where (select count(*) from learn_job where state in ('waiting', 'working')) < ${MOST_WAITING} returning 1`
  return row !== undefined
}
const WITHOUT_INPUT = 'j.id, j.made_at, m.name as made_by, j.options, j.state, j.progress, j.result, j.problem, j.ended_at'
export const learnJob = async (db: Db, id: string): Promise<Omit<LearnJob, 'input'> | undefined> =>
  (await db<LearnJob[]>`select ${db.unsafe(WITHOUT_INPUT)} from learn_job j left join member m on m.id = j.made_by where j.id = ${id}`)[0]
/** The last that a member asked for. */
export const latestLearnJob = async (db: Db): Promise<Omit<LearnJob, 'input'> | undefined> =>
  (
    await db<
      LearnJob[]
    >`select ${db.unsafe(WITHOUT_INPUT)} from learn_job j join member m on m.id = j.made_by order by j.made_at desc, j.id desc limit 1`
  )[0]

/** Takes the one that waits longest, or whose worker fell silent. */
export const takeLearnJob = async (db: Db): Promise<LearnJob | undefined> =>
  (
    await db<LearnJob[]>`
    update learn_job set state = 'working', beat_at = now(), progress = 0 where id = (
      select id from learn_job where state = 'waiting' or (state = 'working' and beat_at < now() - make_interval(secs => ${SILENT_S}))
      order by made_at limit 1 for update skip locked) returning *`
  )[0]
export const beatLearnJob = (db: Db, id: string, progress: number) => db`
  update learn_job set beat_at = now(), progress = ${progress} where id = ${id} and state = 'working'`
export const endLearnJob = (db: Db, id: string, result: LearnJob['result']) => db`
  update learn_job set state = 'done', progress = 1, result = ${result as never}, input = null, ended_at = now() where id = ${id} and state = 'working'`
export const failLearnJob = (db: Db, id: string, problem: string) => db`
  update learn_job set state = 'failed', problem = ${problem}, input = null, ended_at = now() where id = ${id} and state = 'working'`
/** What programs learned is theirs to keep; here it stays for a while. The last of the team's stays. */
export const forgetLearnJobs = (db: Db, before: Date) => db`
  delete from learn_job where ended_at < ${before} and id is distinct from (select id from learn_job where made_by is not null order by made_at desc, id desc limit 1)`

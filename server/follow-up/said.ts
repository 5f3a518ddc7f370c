import { toldIn } from '#core/points/said'
import { unpacked, type Told } from '#core/timeline'
import { saidByEntries, type EntrySaid } from '#db/entries'
import type { Db } from '#db/client'
import type { TimelineRow } from '#db/timeline'

/** What an entry says as the team reads it, with its files to open. */
export const toldBy = ({ answers, questions, files }: EntrySaid): Told[] => toldIn(questions, answers).map(({ key, label, text }) => {
  const own = files.filter(f => f.question === key).map(({ id, name }) => ({ id, name }))
  return { question: label, text, ...(questions.find(q => q.key === key)!.kind === 'file' && { files: own }) }
})

/**
 * A timeline as the team reads it: what is kept in one line stands apart, and entries say what was answered, which a line
 * keeps only where the entry says something else since.
 */
export async function told(db: Db, timeline: TimelineRow[]): Promise<TimelineRow[]> {
  const isBare = ({ kind, payload }: TimelineRow) => kind === 'entry' && !payload.answers
  const entryOf = (line: TimelineRow) => line.payload.entry as string
  const said = await saidByEntries(db, timeline.filter(isBare).map(entryOf))
  return timeline.flatMap(unpacked).map(line => isBare(line) ? { ...line, payload: { ...line.payload, answers: said.has(entryOf(line)) ? toldBy(said.get(entryOf(line))!) : [] } } : line)
}

import { answersToNotify } from '#core/points/in-words'
import { unpacked, type AnswerInWords } from '#core/timeline'
import { answersOfEntries, type EntryAnswers } from '#db/entries'
import type { Db } from '#db/client'
import type { TimelineRow } from '#db/timeline'

/** What an entry says as the team reads it, with its files to open. */
export const answersBy = ({ answers, questions, files }: EntryAnswers): AnswerInWords[] => answersToNotify(questions, answers).map(({ key, label, text }) => {
  const own = files.filter(f => f.question === key).map(({ id, name }) => ({ id, name }))
  return { question: label, text, ...(questions.find(q => q.key === key)!.kind === 'file' && { files: own }) }
})

/**
 * A timeline as the team reads it: what is kept in one line stands apart, and entries say what was answered, which a line
 * keeps only where the entry says something else since.
 */
export async function withAnswers(db: Db, timeline: TimelineRow[]): Promise<TimelineRow[]> {
  const isBare = ({ kind, payload }: TimelineRow) => kind === 'entry' && !payload.answers
  const entryOf = (line: TimelineRow) => line.payload.entry as string
  const said = await answersOfEntries(db, timeline.filter(isBare).map(entryOf))
  return timeline.flatMap(unpacked).map(line => isBare(line) ? { ...line, payload: { ...line.payload, answers: said.has(entryOf(line)) ? answersBy(said.get(entryOf(line))!) : [] } } : line)
}

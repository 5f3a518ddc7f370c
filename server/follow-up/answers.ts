import { answersToNotify } from '#core/points/in-words'
import type { AnswerInWords } from '#core/timeline'
import type { EntryAnswers } from '#db/entries'

/** What an entry says as the team reads it, with its files to open. */
export const answersBy = ({ answers, questions, files }: EntryAnswers): AnswerInWords[] =>
  answersToNotify(questions, answers).map(({ key, label, text }) => {
    const own = files.filter(f => f.question === key).map(({ id, name }) => ({ id, name }))
    return { question: label, text, ...(questions.find(q => q.key === key)!.kind === 'file' && { files: own }) }
  })

import type { Check } from '#core/points/check'
import { choicesOf, type PointDefinition, type Question } from '#core/points/definition'
import { attributesIn } from '#core/conditions/condition'
import { knownPlaceholders, placeholdersIn } from '#core/points/mails'
import { judgeQuiz, possibleOf } from '#core/quiz/judge'
import type { Meaning } from '#core/quiz/shapes'
import { inOrder } from '#core/quiz/way'

type Found = Omit<Check, 'level'>

/** What keeps a quiz from going live, beside what keeps a form. */
export function quizStops(d: PointDefinition): Found[] {
  const quiz = d.quiz!
  const found: Found[] = []
  const say = (frame: Check['frame'], field: string, message: string, mend?: Check['mend']) =>
    found.push({ frame, field, message, ...(mend && { mend }) })
  const scoring = d.questions.filter(q => !q.quiz?.contact)
  if (!scoring.length) say('questions', 'questions', 'The quiz asks nothing but who it is. Add a question.')
  if (quiz.kind === 'outcomes' && quiz.results.length < 2)
    say('thanks', 'quiz.results', 'People can only be sorted into two outcomes or more. Add one.')
  if (quiz.kind === 'marks' && !quiz.results.length) say('thanks', 'quiz.results', 'Nothing is said to who finishes. Add what they read.')
  quiz.results.forEach((r, i) => {
    if (!r.title.trim())
      say('thanks', `quiz.results.${i}.title`, `${quiz.kind === 'outcomes' ? `Outcome ${i + 1}` : 'What people read'} has no title.`)
    if (r.call.kind !== 'none' && !r.button.trim()) say('thanks', `quiz.results.${i}.button`, `The button of “${r.title}” has no text.`)
    if (r.call.kind === 'address' && !/^https?:\/\/[^\s]+$/.test(r.call.address))
      say(
        'thanks',
        `quiz.results.${i}.call`,
        `The address that “${r.title}” leads on to is not one. It should begin with https://.`,
        without(i),
      )
    const used = placeholdersIn(r.text)
    const strange = used?.find(p => !knownPlaceholders(d, 'result').includes(p))
    if (used === null)
      say('thanks', `quiz.results.${i}.text`, `“${r.title}” has a placeholder that is not closed: two braces open it, and two close it.`)
    else if (strange !== undefined)
      say('thanks', `quiz.results.${i}.text`, `“${r.title}” has a placeholder “${strange}”, which stands for nothing.`)
    if (r.call.kind === 'point' && !r.call.point)
      say('thanks', `quiz.results.${i}.call`, `“${r.title}” leads on to nothing of ours. Choose a form, quiz or page.`, without(i))
    if (r.call.kind === 'file' && !r.call.file)
      say('thanks', `quiz.results.${i}.call`, `The file that “${r.title}” offers is missing. Choose one.`, without(i))
  })
  if (quiz.kind === 'marks') {
    if (quiz.results.length && !quiz.results.some(r => r.from === 0))
      say('thanks', 'quiz.results', 'Nothing is said to those who reach little. Let one begin at 0%.', {
        name: 'Let the lowest begin at 0%',
        apply: withLowestAtNothing,
      })
    if (!scoring.some(q => possibleOf(q))) say('questions', 'questions', 'No question has a right answer that brings marks.')
    const twice = quiz.results.find((r, i) => quiz.results.findIndex(o => o.from === r.from) < i)
    if (twice) say('thanks', 'quiz.results', `Two things are said to those who reach ${twice.from}%. Let one begin elsewhere.`)
  }
  if (quiz.skip || quiz.contact === 'after') {
    const tells = d.questions.findIndex(q => !q.quiz?.contact && (q.property === 'email' || d.people.same.includes(q.property ?? '')))
    if (!d.questions.some(q => q.quiz?.contact))
      say(
        'questions',
        'questions',
        'People may finish it without saying who they are, and nothing asks them who they are. Mark the questions that do.',
      )
    else if (tells >= 0)
      say(
        'questions',
        `questions.${tells}`,
        `People may finish it without saying who they are, and “${d.questions[tells]!.label}” asks them all the same. Put it with those that ask who it is.`,
        {
          name: 'Put it there',
          apply: o => ({
            ...o,
            questions: o.questions.map((q, i) => (i === tells && q.quiz ? { ...q, quiz: { ...q.quiz, contact: true } } : q)),
          }),
        },
      )
  }
  d.questions.forEach((q, i) => wayStops(d, q, i).forEach(f => found.push(f)))
  return found
}

const without = (at: number): Check['mend'] => ({
  name: 'Offer nothing',
  apply: d => ({
    ...d,
    quiz: d.quiz && { ...d.quiz, results: d.quiz.results.map((r, i) => (i === at ? { ...r, call: { kind: 'none' } } : r)) },
  }),
})
const withLowestAtNothing = (d: PointDefinition): PointDefinition => {
  if (!d.quiz) return d
  const least = Math.min(...d.quiz.results.map(r => r.from))
  return { ...d, quiz: { ...d.quiz, results: d.quiz.results.map(r => (r.from === least ? { ...r, from: 0 } : r)) } }
}

/** Ways that lead nowhere, back, or past a question for good. */
function wayStops(d: PointDefinition, q: Question, i: number): Found[] {
  const found: Found[] = []
  const order = inOrder(d.questions, d.quiz)
  const at = order.indexOf(q)
  const drop = (n: number): Check['mend'] => ({
    name: 'Take the branch out',
    apply: o => ({
      ...o,
      questions: o.questions.map((x, k) =>
        k === i && x.quiz ? { ...x, quiz: { ...x.quiz, then: x.quiz.then.filter((_, m) => m !== n) } } : x,
      ),
    }),
  })
  q.quiz?.then.forEach((branch, n) => {
    const field = `questions.${i}.quiz.then.${n}`
    const to = order.findIndex(o => o.key === branch.to)
    const say = (message: string) => found.push({ frame: 'questions', field, message, mend: drop(n) })
    if (branch.to !== '' && to < 0) say(`After “${q.label}” it branches to a question that was taken out.`)
    else if (branch.to !== '' && to <= at)
      say(`After “${q.label}” it leads back to “${order[to]!.label}”: people would go round in circles.`)
    else if (branch.to !== '' && order[to]!.quiz?.contact)
      say(`After “${q.label}” it leads to a question about who it is; those are asked in any case. Let it lead to the end.`)
    const later = branch.when && attributesIn(branch.when).find(a => !order.slice(0, at + 1).some(o => a === `answer.${o.key}`))
    if (later) say(`After “${q.label}” it branches by an answer that nobody has given by then.`)
  })
  // A branch that always holds leads past what stands between, unless another branch leads there.
  const always = q.quiz?.then.find(b => !b.when)
  if (always) {
    const end = always.to === '' ? order.length : order.findIndex(o => o.key === always.to)
    for (const passed of order.slice(at + 1, Math.max(at + 1, end))) {
      const isReached = order.some(o => o.quiz?.then.some(b => b.to === passed.key))
      const between = order.slice(at + 1, order.indexOf(passed)).some(o => order.some(x => x.quiz?.then.some(b => b.to === o.key)))
      if (!passed.quiz?.contact && !isReached && !between)
        found.push({
          frame: 'questions',
          field: `questions.${d.questions.indexOf(passed)}`,
          message: `Nobody comes to “${passed.label}”: after “${q.label}” the quiz always goes on behind it.`,
        })
    }
  }
  return found
}

/** What is doubtful in a quiz. */
export function quizHints(d: PointDefinition): Found[] {
  const quiz = d.quiz!
  const found: Found[] = []
  const meanings = (q: Question): Meaning[] =>
    q.kind === 'number' ? (q.quiz?.bands.map(b => b.quiz) ?? []) : choicesOf(q).flatMap(c => c.quiz ?? [])
  if (quiz.kind !== 'outcomes') return found
  if (quiz.results.length)
    for (const [i, p] of quiz.described.entries()) {
      const { result } = judgeQuiz(quiz, d.questions, p.answers)
      const title = (key: string) => quiz.results.find(r => r.key === key)?.title ?? 'an outcome that was taken out'
      if (result !== p.outcome)
        found.push({
          frame: 'questions',
          field: `quiz.described.${i}`,
          message: `“${p.name}” should come to “${title(p.outcome)}”, and comes to “${title(result)}”.`,
        })
    }
  const keys = new Set(quiz.results.map(r => r.key))
  const fed = new Set<string>()
  d.questions.forEach((q, i) => {
    const all = meanings(q).flatMap(m => m.weights)
    all.filter(w => w.n > 0).forEach(w => fed.add(w.to))
    if (all.some(w => !keys.has(w.to)))
      found.push({ frame: 'questions', field: `questions.${i}.choices`, message: `“${q.label}” speaks for an outcome that was taken out.` })
  })
  quiz.results.forEach((r, i) => {
    if (!fed.has(r.key)) found.push({ frame: 'thanks', field: `quiz.results.${i}`, message: `No answer speaks for “${r.title}”.` })
  })
  return found
}

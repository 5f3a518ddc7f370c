import { blankQuestion, freshKey, type PointDefinition, type Question, type QuestionKind } from '#core/points/definition'
import { fills, type PropertyKind } from '#core/properties/kinds'

// What a marketer does with questions. Each gives another definition; what names a question follows its key.

/** A key that says nothing yet: its question has had no text so far. */
const UNNAMED = /^question(_\d+)?$/

/**
 * Adds an empty question.
 * @param after the key of the question that it comes behind; null: at the end
 * @returns the definition, and the key of what was added
 */
export function addQuestion(d: PointDefinition, kind: QuestionKind, after: string | null): { definition: PointDefinition; key: string } {
  const keys = d.questions.map(q => q.key)
  const key = freshKey('question', keys)
  const at = after !== null && keys.includes(after) ? keys.indexOf(after) + 1 : keys.length
  return { definition: { ...d, questions: d.questions.toSpliced(at, 0, asKind(blankQuestion({ key, kind }), kind, null)) }, key }
}

/** Behind which question of a part a new one goes: before the words to agree to at its end, where people expect them. @returns null: there is none */
export const behindWhich = (part: Pick<Question, 'key' | 'kind'>[]): string | null =>
  (part.findLast(q => q.kind !== 'consent') ?? part.at(-1))?.key ?? null

/** Moves a question by so many places, as far as there are any. */
export function moveQuestion(d: PointDefinition, key: string, by: number): PointDefinition {
  const at = d.questions.findIndex(q => q.key === key)
  const to = Math.min(d.questions.length - 1, Math.max(0, at + by))
  return at < 0 || to === at ? d : { ...d, questions: d.questions.toSpliced(at, 1).toSpliced(to, 0, d.questions[at]!) }
}

/** Takes a question out. What still names it stays as it was written; the checks say so. */
export const removeQuestion = (d: PointDefinition, key: string): PointDefinition => ({
  ...d,
  questions: d.questions.filter(q => q.key !== key),
})

/**
 * A question of another kind: what does not go with that kind is gone, what it needs is there.
 * @param property the kind of the property that it fills; null for none
 */
export function asKind(q: Question, kind: QuestionKind, property: PropertyKind | null): Question {
  const several = kind === 'one_of' || kind === 'some_of'
  const fits = property !== null && fills(kind, property)
  return {
    ...q,
    kind,
    choices: !several
      ? []
      : q.choices.length
        ? q.choices
        : [
            { value: 'Yes', text: 'Yes' },
            { value: 'No', text: 'No' },
          ],
    limits: { least: null, most: null },
    preset: '',
    hidden: null,
    property: fits ? q.property : null,
    label: kind === 'consent' && !q.label ? 'You may write to me about this.' : q.label,
    allows: [],
  }
}

/**
 * Gives questions that have a text by now a key that says it, once. Whatever names such a question names it by the new key.
 * @param settled keys that stay as they are: an edition has them, and entries and programs know them
 * @returns the definition, and the new keys by the old ones
 */
export function nameQuestions(
  d: PointDefinition,
  settled: ReadonlySet<string>,
): { definition: PointDefinition; renamed: Map<string, string> } {
  const renamed = new Map<string, string>()
  let definition = d
  for (const { key, label } of d.questions) {
    if (settled.has(key) || !label.trim() || !UNNAMED.test(key)) continue
    const named = freshKey(
      label,
      [...definition.questions.map(q => q.key), ...settled].filter(other => other !== key),
    )
    if (named === key) continue
    definition = renameQuestion(definition, key, named)
    renamed.set(key, named)
  }
  return { definition, renamed }
}

/**
 * Gives a question another key, and names it by that wherever it is named: in conditions (`answer.KEY`) and as a placeholder
 * (`{{answer.KEY}}`, in all the ways that Mustache has) in mails, addresses, texts and wordings.
 */
export function renameQuestion(d: PointDefinition, from: string, to: string): PointDefinition {
  const placeholder = new RegExp(`(\\{\\{[{&#^/]?\\s*answer\\.)${from}(?=\\s*\\}\\})`, 'g')
  const follow = (value: unknown, field: string): unknown => {
    if (typeof value === 'string')
      return field === 'attribute'
        ? value === `answer.${from}`
          ? `answer.${to}`
          : value
        : value.replace(placeholder, (_, before: string) => before + to)
    if (Array.isArray(value)) return value.map(item => follow(item, field))
    if (typeof value !== 'object' || value === null) return value
    // What somebody answered elsewhere is another form's question.
    return Object.fromEntries(Object.entries(value).map(([name, inner]) => [name, name === 'where' ? inner : follow(inner, name)]))
  }
  const followed = follow(d, '') as PointDefinition
  const start = `questions.${from}.`
  const texts = (all: { key: string; text: string }[]) =>
    all.map(t => (t.key.startsWith(start) ? { ...t, key: `questions.${to}.${t.key.slice(start.length)}` } : t))
  const quiz = followed.quiz && {
    ...followed.quiz,
    described: followed.quiz.described.map(p => ({
      ...p,
      answers: Object.fromEntries(Object.entries(p.answers).map(([key, answer]) => [key === from ? to : key, answer])),
    })),
  }
  return {
    ...followed,
    quiz,
    translations: followed.translations.map(t => ({ ...t, texts: texts(t.texts) })),
    questions: followed.questions.map(q => leadingTo(q.key === from ? { ...q, key: to } : q, from, to)),
  }
}

/** A question whose branches lead to another by its new key. */
const leadingTo = (q: Question, from: string, to: string): Question =>
  q.quiz?.then.some(b => b.to === from) ? { ...q, quiz: { ...q.quiz, then: q.quiz.then.map(b => (b.to === from ? { ...b, to } : b)) } } : q

import { choicesOf, type Answers, type PointDefinition, type Question } from '#core/points/definition'
import { isShown } from '#core/points/shown'

/** A made-up person, for previews and rehearsals. */
const PERSON: Record<string, string> = {
  email: 'ines.thornbury@brackwater.example',
  first_name: 'Ines',
  last_name: 'Thornbury',
  company: 'Brackwater School',
  town: 'Brackwater',
}
const BY_KIND: Partial<Record<Question['kind'], string>> = {
  email: PERSON.email,
  phone: '01 23 45 67 89',
  number: '12',
  money: '4500',
  date: '2027-04-18',
  url: 'brackwater.example',
  country: 'FR',
  consent: 'yes',
  long_text: 'We have a south wall, nine metres long, and thirty children.',
  short_text: 'Something',
}

/** What a made-up person would answer to all that a point asks them, within its limits. */
export function sampleAnswers(definition: PointDefinition): Answers {
  const answers: Answers = {}
  for (const q of definition.questions) {
    if (!isShown(q, answers)) continue
    if (q.kind === 'file') continue
    if (q.hidden) {
      if (q.hidden.value) answers[q.key] = q.hidden.value
      continue
    }
    const choice = choicesOf(q)[0]?.value
    if (q.kind === 'some_of')
      answers[q.key] = choicesOf(q)
        .slice(0, Math.max(1, Number(q.limits.least ?? 1)))
        .map(c => c.value)
    else if (q.kind === 'country') answers[q.key] = 'FR'
    else answers[q.key] = choice ?? PERSON[q.property ?? ''] ?? within(q, BY_KIND[q.kind] ?? 'Something')
  }
  return answers
}

/** A sample moved inside the limits of its question. */
function within(q: Question, sample: string): string {
  const { least, most } = q.limits
  if (q.kind === 'number' || q.kind === 'money')
    return String(Math.min(Number(most ?? Infinity), Math.max(Number(least ?? -Infinity), Number(sample))))
  if (q.kind === 'date')
    return least !== null && sample < String(least) ? String(least) : most !== null && sample > String(most) ? String(most) : sample
  const letters = [...sample.padEnd(Number(least ?? 0), '.')]
  return letters.slice(0, Number(most ?? letters.length)).join('')
}

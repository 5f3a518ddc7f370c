import { sayIn, type Say } from '#core/languages/say'
import { isAllRight, rightText } from '#core/quiz/review'
import { languageMarkup } from '#core/languages/language'
import { answerText, type Answer, type Answers, type PointDefinition, type Question } from '#core/points/definition'
import { mailMarkup } from '#core/mails/markup'
import { resultText } from '#core/points/mails'
import { assetPath } from '#core/points/next'
import { pictureMarkup } from '#core/points/pictures'
import type { Way } from '#core/points/markup'
import { meaningsOf, possibleOf, type Judged } from '#core/quiz/judge'
import type { Call, Quiz, Result } from '#core/quiz/shapes'
import type { Language } from '#core/languages/language'
import { cut, escapeHtml as e } from '#core/text'

/** Where a result leads on, as whole addresses. */
export interface ResultPlaces {
  base?: string
  /** Where the quiz begins anew; and where the result stands for others, once it is named. */
  again?: string
  share?: string
  /** Where this person chooses a time to meet; without it nothing is offered. */
  meet?: string
}

/** What stands in a quiz's place once it is finished: the result in its own words, what it came from, and where it leads on. */
export function resultMarkup(definition: PointDefinition, judged: Judged, answers: Answers, places: ResultPlaces = {}): string {
  const { base = '', again, share } = places
  const quiz = definition.quiz!
  const say = sayIn(definition.language)
  const result = quiz.results.find(r => r.key === judged.result) ?? quiz.results[0]!
  const links: (Way & { does?: 'again' | 'share' })[] = [
    ...(quiz.share && share ? [{ text: say('share'), url: share, does: 'share' as const }] : []),
    ...(quiz.again && again ? [{ text: say('startAgain'), url: again, small: true, does: 'again' as const }] : []),
  ]
  return (
    `<div class="cv cv-thanks cv-result" ${languageMarkup(definition.language)} role="status" tabindex="-1">` +
    `<h2 class="cv-title">${e(result.title)}</h2>` +
    (result.picture ? pictureMarkup(result.picture, '(min-width:48rem) 46rem,100vw', 960, base) : '') +
    (quiz.kind === 'marks' ? `<p>${e(marksText(judged, say))}</p>` : '') +
    textMarkup(resultText(definition, result.text, { judged, answers })) +
    callMarkup(result, places) +
    barsMarkup(definition, judged, say) +
    (quiz.kind === 'marks' && quiz.says === 'end' ? reviewMarkup(definition, judged, answers, say) : '') +
    (links.length ? '<div class="cv-ways">' : '') +
    links
      .map(
        w =>
          `<p${w.small ? ' class="cv-small"' : ''}><a class="cv-way${w.does ? ` cv-${w.does}` : ''}" href="${e(w.url)}">${e(w.text)}</a></p>`,
      )
      .join('') +
    (links.length ? '</div>' : '') +
    '</div>'
  )
}

/** A text as the team wrote it, with emphasis, lists and links; plain elements, which the sheet of points dresses. */
const textMarkup = (text: string): string => (text ? mailMarkup(text, () => '').replace(/\n/g, '') : '')

/** Marks in whole ones, or with what is left of them. */
const points = (hundredths: number): string => String(Math.round(hundredths) / 100)
const marksText = ({ earned, possible }: Pick<Judged, 'earned' | 'possible'>, say: Say) =>
  say('marksOf', { got: points(earned), all: points(possible) })

/** Where a call leads; null where there is nowhere to go. */
function placeOf(call: Call, { base = '', meet }: ResultPlaces): string | null {
  if (call.kind === 'address') return call.address
  if (call.kind === 'file') return call.file && base + assetPath(call.file)
  if (call.kind === 'point') return call.point ? `${base}/w/points/${call.point}/page` : null
  return call.kind === 'meeting' ? (meet ?? null) : null
}
function callMarkup({ call, button }: Pick<Result, 'call' | 'button'>, places: ResultPlaces): string {
  const url = placeOf(call, places)
  return url && button ? `<p><a class="cv-button" href="${e(url)}">${e(button)}</a></p>` : ''
}

/** Bars of the outcomes, beside the strongest of them; or of the topics, beside all that there was to be had. */
function barsMarkup({ quiz }: PointDefinition, judged: Judged, say: Say): string {
  const most = Math.max(0, ...Object.values(judged.sums))
  const rows =
    quiz!.kind === 'outcomes'
      ? quiz!.results.map(r => ({ name: r.title, part: most ? Math.max(0, judged.sums[r.key] ?? 0) / most : 0, words: '' }))
      : judged.topics.map(t => ({
          name: quiz!.topics.find(o => o.key === t.key)?.name ?? t.key,
          part: t.possible ? t.earned / t.possible : 0,
          words: marksText(t, say),
        }))
  if (rows.length < 2 || (quiz!.kind === 'outcomes' && !most)) return ''
  // Attributes of SVG are drawn where a page's policy lets no style through.
  return `<ul class="cv-bars">${rows.map(r => `<li><span>${e(cut(r.name, 60))}</span><svg viewBox="0 0 100 10" preserveAspectRatio="none" role="img" aria-label="${Math.round(100 * r.part)} %"><rect width="100" height="10" fill="currentColor" opacity=".15"/><rect width="${(100 * r.part).toFixed(1)}" height="10" fill="currentColor"/></svg><span>${e(r.words)}</span></li>`).join('')}</ul>`
}

/** What was answered, and what would have been right. */
function reviewMarkup({ questions, quiz, language }: PointDefinition, { marks }: Judged, answers: Answers, say: Say): string {
  const rows = marks.map(({ key, possible }) => {
    const q = questions.find(o => o.key === key)!
    const answer = Object.hasOwn(answers, key) ? answers[key] : undefined
    const lines = [
      ...(answer === undefined ? [] : [say('youSaid', { answer: answerText(q, answer, language) })]),
      ...linesOf(quiz!, q, answer, possible, say, language),
    ]
    return `<li><p><b>${e(q.label)}</b></p>${lines.map(l => `<p>${e(l)}</p>`).join('')}</li>`
  })
  return rows.length ? `<ul class="cv-review">${rows.join('')}</ul>` : ''
}

/** What is said of an answer: whether it was right, and the words of the team's own. */
const linesOf = (quiz: Quiz, q: Question, answer: Answer | undefined, possible: number, say: Say, language: Language): string[] => [
  ...(possible ? [isAllRight(quiz, q, answer, possible) ? say('wasRight') : say('rightWas', { answer: rightText(q, language) })] : []),
  ...meaningsOf(q, answer).flatMap(m => m.said || []),
  ...(q.quiz?.said ? [q.quiz.said] : []),
]

/** What is said of an answer right after it was given; nothing where there is nothing to say. */
export function saidMarkup({ quiz, language }: PointDefinition, q: Question, answer: Answer | undefined): string {
  const lines = linesOf(quiz!, q, answer, quiz!.kind === 'marks' ? possibleOf(q) : 0, sayIn(language), language)
  return lines.map(l => `<p>${e(l)}</p>`).join('')
}

/** The result as others see it who are shown it: nothing of who came to it, and the way to the quiz. @param take the address of the quiz */
export function sharedMarkup(definition: PointDefinition, result: Result, take: string, base = ''): string {
  const { quiz, title, language } = definition
  return (
    `<div class="cv cv-thanks cv-result" ${languageMarkup(language)}><h2 class="cv-title">${e(result.title)}</h2>` +
    (result.picture ? pictureMarkup(result.picture, '(min-width:48rem) 46rem,100vw', 960, base) : '') +
    (quiz!.kind === 'outcomes' ? textMarkup(resultText(definition, result.text, { judged: null, answers: {} })) : '') +
    `<p>${e(title)}</p><p><a class="cv-button" href="${e(take)}">${e(sayIn(language)('findYours'))}</a></p></div>`
  )
}

import { sayIn, type Say } from '#core/languages/say'
import { isAllRight, rightText } from '#core/quiz/review'
import { languageMarkup } from '#core/languages/language'
import { answerText, type Answers, type PointDefinition } from '#core/points/definition'
import { assetPath } from '#core/points/next'
import { pictureMarkup } from '#core/points/pictures'
import type { Way } from '#core/points/markup'
import type { Judged } from '#core/quiz/judge'
import type { Call } from '#core/quiz/shapes'
import { cut, escapeHtml as e } from '#core/text'

/** What stands in a quiz's place once it is finished: the result in its own words, what it came from, and where it leads on. */
export function resultMarkup(
  definition: PointDefinition,
  judged: Judged,
  answers: Answers,
  { ways = [], again, base = '' }: { ways?: Way[]; again?: string; base?: string } = {},
): string {
  const quiz = definition.quiz!
  const say = sayIn(definition.language)
  const result = quiz.results.find(r => r.key === judged.result) ?? quiz.results[0]!
  const links: (Way & { again?: true })[] = [
    ...ways,
    ...(quiz.again && again ? [{ text: say('startAgain'), url: again, small: true, again: true as const }] : []),
  ]
  return (
    `<div class="cv cv-thanks cv-result" ${languageMarkup(definition.language)} role="status" tabindex="-1">` +
    `<h2 class="cv-title">${e(result.title)}</h2>` +
    (result.picture ? pictureMarkup(result.picture, '(min-width:48rem) 46rem,100vw', 960, base) : '') +
    (quiz.kind === 'marks' ? `<p>${e(marksText(judged, say))}</p>` : '') +
    (result.text ? `<p>${e(result.text)}</p>` : '') +
    callMarkup(result.call, result.button, base) +
    barsMarkup(definition, judged, say) +
    (quiz.kind === 'marks' && quiz.says === 'end' ? reviewMarkup(definition, judged, answers, say) : '') +
    (links.length ? '<div class="cv-ways">' : '') +
    links
      .map(
        w =>
          `<p${w.small ? ' class="cv-small"' : ''}><a class="cv-way${w.again ? ' cv-again' : ''}" href="${e(w.url)}">${e(w.text)}</a></p>`,
      )
      .join('') +
    (links.length ? '</div>' : '') +
    '</div>'
  )
}

/** Marks in whole ones, or with what is left of them. */
const points = (hundredths: number): string => String(Math.round(hundredths) / 100)
const marksText = ({ earned, possible }: Pick<Judged, 'earned' | 'possible'>, say: Say) =>
  say('marksOf', { got: points(earned), all: points(possible) })

function callMarkup(call: Call, button: string, base: string): string {
  const url = call.kind === 'address' ? call.address : call.kind === 'file' && call.file ? base + assetPath(call.file) : null
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
    const isRight = isAllRight(quiz!, q, answer, possible)
    const lines = [
      ...(answer === undefined ? [] : [say('youSaid', { answer: answerText(q, answer, language) })]),
      isRight ? say('wasRight') : say('rightWas', { answer: rightText(q, language) }),
      ...q.choices.flatMap(c => (c.quiz?.said && [answer ?? []].flat().includes(c.value) ? [c.quiz.said] : [])),
      ...(q.quiz?.said ? [q.quiz.said] : []),
    ]
    return `<li><p><b>${e(q.label)}</b></p>${lines.map(l => `<p>${e(l)}</p>`).join('')}</li>`
  })
  return rows.length ? `<ul class="cv-review">${rows.join('')}</ul>` : ''
}

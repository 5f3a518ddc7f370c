import { setResponseStatus, type H3Event } from 'h3'
import { mayCorrect } from '#core/capture/correct'
import type { Flaw } from '#core/flaws'
import { inTongue } from '#core/points/translations'
import { answerText, publicPoint, type Answers } from '#core/points/definition'
import { formMarkup } from '#core/points/markup'
import { escapeHtml as e } from '#core/text'
import type { Correcting } from '#server/capture/correction'
import { page } from '#server/hosted/pages'
import { sayIn } from '#core/languages/say'

/** The form with what was sent, to be put right. Complete without any script. */
export function correctPage(
  event: H3Event,
  { entry, edition, point }: Correcting,
  again: { values?: Answers; flaws?: Flaw[] } = {},
): string {
  if (again.flaws?.length) setResponseStatus(event, 422)
  const language = entry.language ?? edition.definition.language
  const definition = inTongue(edition.definition, language)
  const say = sayIn(language)
  const asked = definition.questions.filter(mayCorrect)
  const shown = publicPoint(
    point.key,
    edition.number,
    {
      ...definition,
      title: say('correct'),
      intro: say('correctAbout', { title: definition.title, day: entry.at.toISOString().slice(0, 10) }),
      button: say('correctKeep'),
      // All on one page: there is nothing to be led through a second time.
      questions: asked.map(q => ({ ...q, newPage: false })),
    },
    say,
  )
  const form = formMarkup(shown, { action: '', values: entry.answers, ...again })
  // What was answered and may not be changed here is said, so that nobody looks for it.
  const fixed = definition.questions.filter(q => !mayCorrect(q) && !q.hidden && entry.answers[q.key] !== undefined)
  const stays = fixed
    .map(q => `<li>${e(q.label)}${q.kind === 'consent' ? '' : `: ${e(answerText(q, entry.answers[q.key]!, language))}`}</li>`)
    .join('')
  return page(
    event,
    say('correct'),
    stays ? form.replace('</form>', () => `<div class="cv-help"><p>${e(say('correctStays'))}</p><ul>${stays}</ul></div></form>`) : form,
    definition.theme,
    { language },
  )
}

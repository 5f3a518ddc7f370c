import { setResponseStatus, type H3Event } from 'h3'
import { pagesOf, publicPoint, type Answers, type PublicQuestion } from '#core/points/definition'
import { holds } from '#core/conditions/condition'
import { saidMarkup } from '#core/quiz/markup'
import { inOwnOrder } from '#core/quiz/shuffle'
import { allowsNameless, askedOn, pageBeside } from '#core/quiz/way'
import type { Point } from '#db/points'
import { limitPoint } from '#server/capture/attack'
import { thanksOfNameless } from '#server/capture/next'
import { finishNameless } from '#server/capture/nameless'
import { lacksProof, pageWith, received } from '#server/capture/received'
import { applicationContext } from '#server/application-context'
import { shownAt } from '#server/hosted/at'
import type { QuizStep } from '#server/hosted/pages'
import { leadTo } from '#server/wire'
import { inTongueOf, tongueFor } from '#server/words'

type Unseen = Record<string, string>

/** Whether what was posted is a part of a quiz, or the whole of one whose visitor stays nameless: no entry in any case. */
export function isStep({ live }: Point, unseen: Unseen): boolean {
  const { definition } = live!
  if (!definition.quiz) return false
  if (unseen._to) return true
  return allowsNameless(definition) && (definition.quiz.contact === 'after' ? !unseen._finished : unseen._skipped === '1')
}

interface Posted {
  fields: Answers
  unseen: Unseen
  /** The whole as an entry would be received. */
  body: object
  key: string | null
}

/**
 * A quiz that is asked part by part without a script: the next part, this one again where something is missing in it, or what somebody
 * nameless came to.
 */
export async function stepForm(event: H3Event, point: Point, { fields, unseen, body, key }: Posted) {
  const { number, definition: plain } = point.live!
  const { definition } = inTongueOf(point, tongueFor(event, plain)).live!
  const seed = Number(unseen._seed) || undefined
  const shown = publicPoint(point.key, number, definition)
  const pages = pagesOf(seed ? inOwnOrder(shown, seed).questions : shown.questions)
  const at = Math.min(pages.length - 1, Math.max(0, Number(unseen._at) || 0))
  const given = Object.fromEntries(Object.entries(fields).filter(([, answer]) => answer.length))
  const isContact = pages[at]!.some(q => q.quiz?.contact)
  const mayStay = allowsNameless(definition)
  const skipped = mayStay && (unseen._to === 'skip' || (unseen._skipped === '1' && !(isContact && unseen._to === 'next')))
  const isOut = (q: PublicQuestion) => Boolean(q.quiz?.contact) && mayStay && (skipped || definition.quiz!.contact === 'after')
  const asked = new Set(askedOn(pages.flat(), given, holds).filter(q => !isOut(q)))
  const isBack = unseen._to === 'back'

  const missing = isBack ? [] : pages[at]!.filter(q => q.required && !q.parameter && asked.has(q) && given[q.key] === undefined)
  const landing = unseen._landing ? await pageWith(applicationContext().sql, point, unseen._landing) : null
  const showAt = (quiz: QuizStep, more: object = {}) =>
    shownAt(event, landing ?? point, { values: given, shown: unseen._shown, quiz: { seed, skipped, ...quiz }, ...more })
  if (missing.length) {
    setResponseStatus(event, 422)
    return showAt({ at }, { flaws: missing.map(q => ({ field: `answers.${q.key}`, message: q.error || shown.words.answer })) })
  }
  const to = unseen._to ? pageBeside(pages, at, isBack ? -1 : 1, given, holds, isOut) : null
  if (to !== null) return showAt({ at: to, said: isBack ? '' : saidOf() })
  if (isBack) return showAt({ at })
  // What is sent by a button of its own goes the way of entries.
  if (unseen._to === 'next') return showAt({ at, isLast: true })
  return finish()

  /** What is said of the answers that were just given. */
  function saidOf(): string {
    const said = pages[at]!.filter(q => q.says && asked.has(q))
    return said
      .map(q =>
        saidMarkup(
          definition,
          definition.questions.find(o => o.key === q.key)!,
          given[q.key],
        ),
      )
      .join('')
  }

  async function finish() {
    const got = await received(event, point, { ...body, nameless: true }, key && `${key}.n`)
    if (!got.nameless) {
      setResponseStatus(event, 422)
      return showAt({ at: undefined }, { flaws: got.flaws })
    }
    await limitPoint(event, point.key)
    const isUnproven = await lacksProof(point, { suspect: null, edition: got.nameless.edition }, null)
    const came = await finishNameless(event, point, landing, { ...got.nameless, isSuspect: got.nameless.isSuspect || isUnproven })
    if (definition.quiz!.contact !== 'after') return leadTo(event, thanksOfNameless(definition, landing?.slug ?? point.slug, came.id), 303)
    return showAt({ at: pages.findIndex(page => page.some(q => q.quiz?.contact)), isLast: true, came })
  }
}

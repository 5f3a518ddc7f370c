import { pagesOf, type Answers, type PublicPoint, type PublicQuestion } from '#core/points/definition'
import type { Flaw } from '#core/flaws'
import type { holds as Holds } from '#core/conditions/condition'
import { problemText } from '#core/points/refusals'
import { answerAttributes } from '#core/points/shown'

/** A form that was drawn, brought to life: questions as their conditions say, pages one at a time. */
export interface LiveForm {
  /** The answers to what is asked, as typed. */
  answers: () => Answers
  /** The files that were chosen for what is asked. */
  files: () => [string, File][]
  /** Shows what is wrong where it is, keeps what was typed, and leads to the first. `otherwise` is said where no flaw says anything. */
  mark: (flaws: Flaw[], otherwise?: string) => void
  /** Which page is shown, which comes next for who answers so, and how to show another; `still`: without going into it. */
  at: () => number
  next: () => number | null
  turn: (to: number | null, still?: boolean) => void
  /** Whether all that must be answered on this page is; what is not is marked. */
  check: () => boolean
}

/** What is asked of who answers as it stands: told question by question, in their order. */
export interface Way {
  isAsked: (q: PublicQuestion) => boolean
  answered: (q: PublicQuestion) => void
}
/** What a quiz adds to a form. */
export interface Course {
  way: (given: Answers, holds: typeof Holds) => Way
  shown: (at: number) => void
  /** Whether something is said of the answers first; then it goes on with the next press. */
  says: () => Promise<boolean>
}

/**
 * @param parameters of the page's address, for questions that it answers
 * @param holds judges conditions: the page's script has it already
 */
export function bring(
  form: HTMLFormElement,
  point: PublicPoint,
  parameters: URLSearchParams,
  holds: typeof Holds,
  quiz?: Course,
): LiveForm {
  const pages = pagesOf(point.questions)
  const sections = [...form.querySelectorAll<HTMLElement>('.cv-page')]
  const part = (name: string) => form.querySelector<HTMLElement>(`.cv-${name}`)
  const hide = (name: string, hidden: boolean) => part(name)?.toggleAttribute('hidden', hidden)
  const place = (key: string) => form.querySelector<HTMLElement>(`[data-question="${key}"]`)
  /** What is asked of who answers as it stands there. */
  const now = new Set<PublicQuestion>()
  // Somebody may have come as far before the script was there.
  let at = Number(form.querySelector<HTMLInputElement>('[name=_at]')?.value) || 0

  for (const input of form.querySelectorAll<HTMLInputElement>('[data-parameter]'))
    input.value = parameters.get(input.dataset.parameter!) ?? input.value

  /** In the order of the questions: a condition looks only at what was asked before it. */
  function answers(): Answers {
    const data = new FormData(form)
    const given: Answers = {}
    const way = quiz?.way(given, holds)
    const attributes = answerAttributes(given)
    now.clear()
    for (const q of point.questions) {
      const shown = way ? way.isAsked(q) : !q.shownIf || holds(q.shownIf, attributes)
      const box = place(q.key)
      if (box) box.hidden = !shown
      const typed = data
        .getAll(q.key)
        .map(v => (typeof v === 'string' ? v : v.name))
        .filter(Boolean)
      if (shown && typed.length) given[q.key] = q.kind === 'some_of' || q.kind === 'file' ? typed : typed[0]!
      if (!shown) continue
      now.add(q)
      way?.answered(q)
    }
    return given
  }

  const asks = (page: PublicQuestion[]) => page.some(q => now.has(q) && !q.parameter)
  /** The next page with something to ask, in a direction; null behind the last. */
  function beside(by: 1 | -1): number | null {
    answers()
    for (let n = at + by; pages[n]; n += by) if (asks(pages[n]!)) return n
    return null
  }
  function show(): void {
    answers()
    quiz?.shown(at)
    if (!sections.length) return
    sections.forEach((section, n) => {
      section.hidden = n !== at
    })
    const last = beside(1) === null
    hide('back', beside(-1) === null)
    hide('next', last)
    hide('send', !last)
    hide('progress', false)
    const progress = part('progress')
    if (!progress) return
    const asking = pages.filter(asks)
    progress.textContent = point.words.part.replace('{at}', String(asking.indexOf(pages[at]!) + 1)).replace('{of}', String(asking.length))
  }
  function turn(to: number | null, still = false): void {
    if (to === null || !sections[to]) return
    at = to
    show()
    if (!still) sections[at]!.querySelector<HTMLElement>('input:not([type=hidden]),select,textarea')?.focus()
  }

  function mark(flaws: Flaw[], otherwise = ''): void {
    part('problem')!.textContent = problemText(flaws, point.questions, point.words.look, otherwise)
    let first: HTMLElement | null = null
    for (const { key } of point.questions) {
      const box = place(key)
      if (!box) continue
      const flaw = flaws.find(f => f.field === `answers.${key}`)?.message ?? ''
      box.querySelector('.cv-flaw')!.textContent = flaw
      const named = box.matches('fieldset') ? box : box.querySelector<HTMLElement>('input,select,textarea')!
      if (flaw) named.setAttribute('aria-invalid', 'true')
      else named.removeAttribute('aria-invalid')
      if (!flaw || first) continue
      const page = pages.findIndex(p => p.some(q => q.key === key))
      if (sections.length && page !== at) {
        at = page
        show()
      }
      first = box.querySelector<HTMLElement>('input,select,textarea')
    }
    first?.focus()
  }

  function check(): boolean {
    const given = answers()
    const empty = (sections.length ? pages[at]! : point.questions).filter(
      q => now.has(q) && !q.parameter && q.required && given[q.key] === undefined,
    )
    mark(empty.map(q => ({ field: `answers.${q.key}`, message: q.error || point.words.answer })))
    return !empty.length
  }

  // What leads from part to part without a script is not needed now.
  for (const step of form.querySelectorAll('.cv-step,[name=_at]')) step.remove()
  if (sections.length) {
    part('back')?.addEventListener('click', () => turn(beside(-1)))
    part('next')!.addEventListener('click', async () => {
      if (check() && !(await quiz?.says())) turn(beside(1))
    })
    // Enter goes on, as long as there is somewhere to go.
    form.addEventListener('keydown', event => {
      if (event.key !== 'Enter' || !(event.target as HTMLElement).matches('input') || part('next')!.hidden) return
      event.preventDefault()
      part('next')!.click()
    })
  }
  form.addEventListener('input', show)
  form.addEventListener('change', show)
  show()
  const files = () => {
    const data = new FormData(form)
    const given = answers()
    return point.questions.flatMap(q =>
      q.kind === 'file' && given[q.key]
        ? data.getAll(q.key).flatMap(f => (f instanceof File && f.name ? [[q.key, f] as [string, File]] : []))
        : [],
    )
  }
  return { answers, files, mark, turn, check, at: () => at, next: () => beside(1) }
}

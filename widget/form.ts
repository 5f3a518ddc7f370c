import { pagesOf, type Answers, type PublicPoint, type PublicQuestion } from '#core/points/definition'
import type { Flaw } from '#core/flaws'
import type { holds as Holds } from '#core/conditions/condition'
import { problemText } from '#core/points/refusals'
import { along, pageBeside } from '#core/quiz/way'

/** A form that was drawn, brought to life: questions as their conditions say, pages one at a time. */
export interface LiveForm {
  /** The answers to what is asked, as typed. */
  answers: () => Answers
  /** The files that were chosen for what is asked. */
  files: () => [string, File][]
  /** Shows what is wrong where it is, keeps what was typed, and leads to the first. `otherwise` is said where no flaw says anything. */
  mark: (flaws: Flaw[], otherwise?: string) => void
  /** Which page is shown, and how to show another. */
  at: () => number
  turn: (to: number | null) => void
}

/**
 * @param parameters of the page's address, for questions that it answers
 * @param holds judges conditions: the page's script has it already
 */
export function bring(form: HTMLFormElement, point: PublicPoint, parameters: URLSearchParams, holds: typeof Holds): LiveForm {
  const pages = pagesOf(point.questions)
  const sections = [...form.querySelectorAll<HTMLElement>('.cv-page')]
  const part = (name: string) => form.querySelector<HTMLElement>(`.cv-${name}`)
  const hide = (name: string, hidden: boolean) => part(name)?.toggleAttribute('hidden', hidden)
  const place = (key: string) => form.querySelector<HTMLElement>(`[data-question="${key}"]`)
  /** What is asked of who answers as it stands there. */
  const now = new Set<PublicQuestion>()
  let at = 0

  for (const input of form.querySelectorAll<HTMLInputElement>('[data-parameter]')) input.value = parameters.get(input.dataset.parameter!) ?? input.value

  /** In the order of the questions: a condition looks only at what was asked before it. */
  function answers(): Answers {
    const data = new FormData(form)
    const given: Answers = {}
    const way = along(given, holds)
    now.clear()
    for (const q of point.questions) {
      const shown = way.isAsked(q)
      const box = place(q.key)
      if (box) box.hidden = !shown
      const typed = data.getAll(q.key).map(v => typeof v === 'string' ? v : v.name).filter(Boolean)
      if (shown && typed.length) given[q.key] = q.kind === 'some_of' || q.kind === 'file' ? typed : typed[0]!
      if (!shown) continue
      now.add(q)
      way.answered(q)
    }
    return given
  }

  /** The next page with something to ask, in a direction; null behind the last. */
  const beside = (by: 1 | -1) => pageBeside(pages, at, by, answers(), holds)
  function show(): void {
    answers()
    if (!sections.length) return
    sections.forEach((section, n) => { section.hidden = n !== at })
    const last = beside(1) === null
    hide('back', beside(-1) === null)
    hide('next', last)
    hide('send', !last)
    hide('progress', false)
    const progress = part('progress')
    if (progress) progress.textContent = point.words.part.replace('{at}', String(at + 1)).replace('{of}', String(pages.length))
  }
  function turn(to: number | null): void {
    if (to === null || !sections[to]) return
    at = to
    show()
    sections[at]!.querySelector<HTMLElement>('input:not([type=hidden]),select,textarea')?.focus()
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

  // What leads from part to part without a script is not needed now.
  for (const step of form.querySelectorAll('.cv-step,[name=_at]')) step.remove()
  if (sections.length) {
    part('back')?.addEventListener('click', () => turn(beside(-1)))
    part('next')!.addEventListener('click', () => {
      const given = answers()
      const empty = pages[at]!.filter(q => now.has(q) && !q.parameter && q.required && given[q.key] === undefined)
      mark(empty.map(q => ({ field: `answers.${q.key}`, message: q.error || point.words.answer })))
      if (!empty.length) turn(beside(1))
    })
    // Enter goes on, as long as there is somewhere to go.
    form.addEventListener('keydown', (event) => {
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
    return point.questions.flatMap(q => q.kind === 'file' && given[q.key] ? data.getAll(q.key).flatMap(f => f instanceof File && f.name ? [[q.key, f] as [string, File]] : []) : [])
  }
  return { answers, files, mark, turn, at: () => at }
}

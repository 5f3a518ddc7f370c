import type { Answers, PublicPoint } from '#core/points/definition'
import { formMarkup } from '#core/points/markup'
import type { LiveForm } from './form'

/** The quiz that somebody is in the middle of, in the edition that they began: in this tab, until it is finished or closed. */
interface Begun {
  edition: number
  language: string
  answers: Answers
  at: number
  /** When it was first seen, in ms since 1970. */
  since: number
}
const nameOf = (key: string) => `cavlin.quiz.${key}`

function begun(key: string): Begun | null {
  try {
    return JSON.parse(sessionStorage.getItem(nameOf(key)) ?? 'null') as Begun | null
  } catch {
    return null
  }
}

/** Keeps how far somebody has come. Where the browser lets nothing be kept, a reload begins anew. */
export function keep({ key, edition, language }: PublicPoint, live: LiveForm, since: number): void {
  const answers = live.answers()
  try {
    if (Object.keys(answers).length)
      sessionStorage.setItem(nameOf(key), JSON.stringify({ edition, language, answers, at: live.at(), since } satisfies Begun))
  } catch {
    /* it is full, or shut */
  }
}
export function end(key: string): void {
  try {
    sessionStorage.removeItem(nameOf(key))
  } catch {
    /* there was nothing */
  }
}

/** Fills in what was answered before a reload, and goes on there. @returns when it was first seen; undefined: just now */
export function goOn(form: HTMLFormElement, key: string, live: LiveForm): number | undefined {
  const before = begun(key)
  if (!before) return
  for (const [name, answer] of Object.entries(before.answers)) {
    const given = [answer].flat()
    for (const field of form.querySelectorAll<HTMLInputElement | HTMLSelectElement | HTMLTextAreaElement>(`[name="${CSS.escape(name)}"]`)) {
      if (field instanceof HTMLInputElement && (field.type === 'radio' || field.type === 'checkbox'))
        field.checked = given.includes(field.value)
      else if (field.type !== 'file') field.value = given[0]!
    }
  }
  live.turn(before.at)
  return before.since
}

/**
 * The quiz as it was begun, where another edition is live by now.
 * @returns null when it is the one that is shown, or the other is not to be had
 */
export async function asBegun(form: HTMLFormElement, point: PublicPoint, base: string): Promise<PublicPoint | null> {
  const before = begun(point.key)
  if (!before || (before.edition === point.edition && before.language === point.language)) return null
  const answer = await fetch(
    `${base}/w/points/${point.key}?${new URLSearchParams({ edition: String(before.edition), lang: before.language })}`,
  ).catch(() => null)
  const old = answer?.ok ? ((await answer.json()) as PublicPoint) : null
  if (old?.edition !== before.edition || !form.isConnected) return null
  const box = document.createElement('div')
  box.innerHTML = formMarkup(old, { action: form.action, base })
  // What the page sends along unseen goes along.
  for (const unseen of form.querySelectorAll<HTMLInputElement>('input[type=hidden][name^=_]'))
    if (!['_at', '_edition'].includes(unseen.name)) box.firstElementChild!.append(unseen)
  form.replaceWith(box.firstElementChild!)
  return old
}

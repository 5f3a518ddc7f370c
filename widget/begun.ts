import type { Answer, Answers } from '#core/points/definition'

/** The quiz that somebody is in the middle of, as they began it: in this tab, until it is finished or closed. */
export interface Begun {
  edition: number
  language: string
  answers: Answers
  at: number
  /** When it was first seen, in ms since 1970. */
  since: number
  /** Of the order in which it is asked. */
  seed: number
  skipped: boolean
  /** What was kept of it when it was finished without saying who it is, and what they came to. */
  came: { finished: string; html: string } | null
}
const nameOf = (key: string) => `cavlin.quiz.${key}`

export function begun(key: string): Begun | null {
  try {
    return JSON.parse(sessionStorage.getItem(nameOf(key)) ?? 'null') as Begun | null
  } catch {
    return null
  }
}

/** Keeps how far somebody has come. Where the browser lets nothing be kept, a reload begins anew. */
export function keepBegun(key: string, now: Begun): void {
  try {
    sessionStorage.setItem(nameOf(key), JSON.stringify(now))
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

/** Fills in what was answered. */
export function fill(form: HTMLFormElement, answers: Answers): void {
  for (const [name, answer] of Object.entries(answers)) {
    const given: Answer[] = [answer].flat()
    for (const field of form.querySelectorAll<HTMLInputElement | HTMLSelectElement | HTMLTextAreaElement>(`[name="${CSS.escape(name)}"]`)) {
      if (field instanceof HTMLInputElement && (field.type === 'radio' || field.type === 'checkbox'))
        field.checked = given.includes(field.value)
      else if (field.type !== 'file') field.value = String(given[0] ?? '')
    }
  }
}

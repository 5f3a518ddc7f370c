import type { Answers, PublicPoint } from '#core/points/definition'
import { known, newId, stored } from './agreement'
import type { Tools } from './tools'

/** Keeps what visitors who agreed type, before they send it and when they never do. Fetched with the first key that is pressed. */
const TYPING = 'cavlin.typing'
const PAUSE_MS = 1000
const LEFT_MS = 150

interface Begun {
  id: string
  turn: number
  visit: string
  at: number
}
/** What is typed into: a point of ours with its edition, or a form of the site's by its name. */
type Into = { point: string; edition: number } | { form: string }
export interface Keeper {
  /** A key was pressed, or a field was left. */
  typed: (left?: boolean) => void
  /** The page is being left. */
  leave: () => void
  /** The site's own form was sent. */
  sent: () => void
  /** It becomes an entry. @returns its id, if something was kept */
  end: () => string | undefined
}

/**
 * @param read what stands there now, without what is not to be kept
 * @param busy the field that is being typed into just now
 */
function keep(base: string, into: Into, read: () => Answers, busy: () => string | undefined): Keeper {
  const name = 'point' in into ? into.point : into.form
  let timer = 0
  let last = ''
  const all = (): Record<string, Begun> => {
    try {
      return JSON.parse(stored(TYPING) || '{}') as Record<string, Begun>
    } catch {
      return {}
    }
  }
  function put(begun: Begun | undefined): void {
    const { [name]: _, ...rest } = all()
    stored(TYPING, JSON.stringify(begun ? { ...rest, [name]: begun } : rest))
  }
  function send(closing = false, sent = false): void {
    clearTimeout(timer)
    const who = known(Date.now())
    const answers = read()
    const still = closing ? undefined : busy()
    const text = JSON.stringify([answers, still])
    if (!who || !Object.keys(answers).length || (text === last && !sent)) return
    last = text
    const before = all()[name]
    const begun = before?.visit === who.visit ? before : { id: newId(), turn: 0, visit: who.visit, at: Date.now() }
    begun.turn++
    put(sent ? undefined : begun)
    const body = JSON.stringify({
      id: begun.id,
      visitor: who.visitor,
      ...into,
      answers,
      settled: Object.keys(answers).filter(k => k !== still),
      page: location.origin + location.pathname,
      turn: begun.turn,
      since: Math.max(0, Date.now() - begun.at),
      ...(sent && { sent }),
    })
    if (closing && navigator.sendBeacon?.(`${base}/w/unfinished`, body)) return
    fetch(`${base}/w/unfinished`, { method: 'POST', body, keepalive: true }).catch(() => {
      last = ''
    })
  }
  return {
    typed(left) {
      clearTimeout(timer)
      timer = setTimeout(send, left ? LEFT_MS : PAUSE_MS) as unknown as number
    },
    leave: () => {
      if (timer) send(true)
    },
    sent: () => send(true, true),
    end() {
      clearTimeout(timer)
      timer = 0
      const begun = all()[name]
      put(undefined)
      return begun?.id
    },
  }
}

/** Keeps what is typed into a form of ours. */
export function keepForm(form: HTMLFormElement, point: PublicPoint, answersOf: () => Answers, tools: Tools): Keeper {
  const read = () => {
    const answers = answersOf()
    for (const q of point.questions) if (q.unkept || q.kind === 'file' || q.parameter) delete answers[q.key]
    return answers
  }
  const busy = () => (form.getRootNode() as Document | ShadowRoot).activeElement?.closest<HTMLElement>('[data-question]')?.dataset.question
  const keeper = keep(tools.base, { point: point.key, edition: point.edition }, read, busy)
  tools.onLeave(keeper.leave)
  return keeper
}

const NEVER = /(^|[^a-z])(pass(word|wort)?|pin|card|cc|cv[cv]|iban|account|konto|ssn)([^a-z]|$)/i
type Field = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement
const KEPT = 'input[data-cavlin-keep],textarea[data-cavlin-keep],select[data-cavlin-keep]'
const keyOf = (f: Field) => f.dataset.cavlinKeep || f.name || f.id
/** Passwords, what is paid with, and what is marked private are nobody's business, whatever the mark says. */
const mayKeep = (f: Field) =>
  !/^(password|hidden|file|submit|button)$/.test(f.type) &&
  !/^(cc-|one-time|current-|new-)/.test(f.autocomplete) &&
  !NEVER.test(`${f.name} ${f.id}`) &&
  !f.closest('[data-cavlin-private]')

/** Whether it holds something else than what stood there from the start. */
const isTyped = (f: Field) =>
  !(f instanceof HTMLSelectElement) && (f.value !== f.defaultValue || (f instanceof HTMLInputElement && f.checked !== f.defaultChecked))

const watched = new WeakMap<Element, Keeper>()
/** Watches the marked fields of one of the site's own forms, from the first that is entered on. */
export function watchSite(field: Element, base: string, onLeave: (done: () => void) => void): void {
  const around = field.closest('form') ?? document.body
  if (watched.has(around)) return
  const fields = () => [...around.querySelectorAll<Field>(KEPT)].filter(mayKeep)
  const form =
    (around as HTMLElement).dataset.cavlinForm ||
    (around instanceof HTMLFormElement && (around.getAttribute('name') || around.id)) ||
    document.title ||
    location.pathname
  const read = () => {
    const answers: Answers = {}
    for (const f of fields())
      if (f.value && keyOf(f) && (!/^(checkbox|radio)$/.test(f.type) || (f as HTMLInputElement).checked)) answers[keyOf(f)] = f.value
    return answers
  }
  const keeper = keep(base, { form: form.slice(0, 80) }, read, () => {
    const f = document.activeElement as Field | null
    return f?.matches(KEPT) ? keyOf(f) : undefined
  })
  watched.set(around, keeper)
  around.addEventListener('input', ({ target }) => {
    if ((target as Element).matches(KEPT)) keeper.typed()
  })
  around.addEventListener('focusout', ({ target }) => {
    if ((target as Element).matches(KEPT)) keeper.typed(true)
  })
  around.addEventListener('submit', () => keeper.sent())
  // What was typed until we came.
  if (fields().some(isTyped)) keeper.typed(true)
  onLeave(keeper.leave)
}

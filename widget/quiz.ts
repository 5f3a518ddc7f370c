import type { Answers, PublicPoint } from '#core/points/definition'
import type { formMarkup } from '#core/points/markup'
import { inOwnOrder } from '#core/quiz/shuffle'
import { along } from '#core/quiz/way'
import type { holds as Holds } from '#core/conditions/condition'
import { begun, end, fill, keepBegun, type Begun } from './begun'
import type { LiveForm } from './form'

export { QUIZ_SHEET as sheet } from '#core/quiz/style'
export { inOwnOrder as arranged }

/** A seed for an order of one's own; the one in which somebody began stays. */
export const seedFor = (key: string): number => begun(key)?.seed ?? 1 + Math.floor(Math.random() * 0x7fffffff)

interface Around {
  form: HTMLFormElement
  point: PublicPoint
  base: string
  seed: number
  /** When it was first seen, in ms since 1970. */
  since: number
  /** Draws forms: the page's script has it already. */
  markup: typeof formMarkup
  /** Brings a form to life that takes the place of this one: from the beginning, or as it was begun. */
  anew: (form: HTMLFormElement, point: PublicPoint, seed: number) => void
}

/** Somebody's way through a quiz, from the first question to what they come to. */
export function goThrough({ form, point, base, seed, since, markup, anew }: Around) {
  const { quiz, key } = point
  const blank = form.cloneNode(true) as HTMLFormElement
  const parts = form.querySelectorAll<HTMLElement>('.cv-page')
  const contactAt = [...parts].findIndex(part =>
    point.questions.some(q => q.quiz?.contact && part.querySelector(`[data-question="${q.key}"]`)),
  )
  const skip = form.querySelector<HTMLButtonElement>('.cv-skip')
  const told = new Set<string>()
  let skipped = false
  /** What was kept of it when it was finished by somebody nameless, and what they came to. */
  let came: { finished: string; html: string } | null = null
  let result: HTMLElement | null = null
  let live: LiveForm
  /** What was kept before stands there again: from now on it is kept how far it comes. */
  let resumed = false

  /** As high as its tallest part from the beginning: nothing moves from question to question, and the button stays under the finger. */
  function keepStill(): void {
    if (parts.length < 2 || !form.isConnected || came) return
    form.classList.add('cv-still')
    form.style.minHeight = ''
    const all = [...form.querySelectorAll<HTMLElement>('.cv-page,.cv-page [data-question],.cv-skip')]
    const hidden = all.map(one => one.hidden)
    let most = 0
    for (const [n] of parts.entries()) {
      for (const one of all) one.hidden = one.matches('.cv-page') ? one !== parts[n] : one === skip && n !== contactAt
      most = Math.max(most, Math.ceil(form.getBoundingClientRect().height))
    }
    all.forEach((one, i) => {
      one.hidden = hidden[i]!
    })
    form.style.minHeight = `${most}px`
  }
  let width = 0
  const wide = new ResizeObserver(() => {
    if (form.offsetWidth === width) return
    width = form.offsetWidth
    keepStill()
  })

  /** Nobody says who they are: they do not want to, or not yet. */
  const nameless = () => skipped || (quiz!.after !== undefined && !came)
  const way = (given: Answers, holds: typeof Holds) => {
    const whole = along(given, holds)
    return {
      isAsked: (q: Parameters<typeof whole.isAsked>[0]) => !(q.quiz?.contact && nameless()) && whole.isAsked(q),
      answered: whole.answered,
    }
  }

  function keep(): void {
    const answers = live.answers()
    if (Object.keys(answers).length)
      keepBegun(key, { edition: point.edition, language: point.language, answers, at: live.at(), since, seed, skipped, came })
  }
  skip?.addEventListener('click', event => {
    skipped = true
    // At the end the button sends; before that it goes on.
    const next = live.next()
    if (next === null) return
    event.preventDefault()
    live.turn(next)
  })

  /** Below the result it is asked who it is, and nothing else. */
  function askWho(): void {
    form.before(result!)
    wide.disconnect()
    form.style.minHeight = ''
    live.mark([])
    for (const part of form.querySelectorAll('.cv-title,.cv-header,.cv-logo,.cv-back,.cv-progress,form > .cv-intro')) part.remove()
    form.querySelector('.cv-send')!.textContent = quiz!.after!
    live.turn(contactAt, true)
  }

  /** The same question is not answered anew once it was said what is right. */
  async function say(): Promise<boolean> {
    const answers = live.answers()
    /** What is shown now and was not spoken of. */
    const open = [...(parts[live.at()]?.querySelectorAll<HTMLElement>('[data-question]') ?? [form])].flatMap(box =>
      point.questions.filter(q => q.says && q.key === box.dataset.question && !told.has(q.key)).map(q => ({ box, q: q.key })),
    )
    if (!open.length) return false
    for (const { q } of open) told.add(q)
    let said: Record<string, string> = {}
    try {
      const answer = await fetch(`${base}/w/points/${key}/said`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ answers, edition: point.edition, language: point.language, questions: open.map(o => o.q) }),
      })
      if (answer.ok) said = ((await answer.json()) as { said: Record<string, string> }).said
    } catch {
      /* without it, it goes on all the same */
    }
    for (const { box, q } of open) {
      if (!said[q]) continue
      const words = document.createElement('div')
      words.className = 'cv-said'
      words.setAttribute('role', 'status')
      box.append(words)
      words.innerHTML = said[q]
      box.addEventListener('input', () => fill(form, { [q]: answers[q] ?? [] }), true)
    }
    return Object.keys(said).length > 0
  }

  return {
    way,
    /** Is told of each part that is shown, and of what is answered there: it is kept before a reload can come between. */
    shown(at: number): void {
      if (skip) skip.hidden = at !== contactAt || !parts.length
      if (resumed) keep()
    },
    /** Something is said before it goes on: then it goes on with the next press. */
    says: async () => quiz!.each === true && (await say()),
    /** Goes on where somebody was before a reload, in the edition and the order in which they began. */
    async resume(now: LiveForm): Promise<void> {
      live = now
      wide.observe(form)
      const before = begun(key)
      resumed = true
      if (!before) return
      const old = await asBegun(before, point, base)
      if (old) {
        const box = document.createElement('div')
        box.innerHTML = markup(inOwnOrder(old, before.seed), { action: form.action, base })
        // What the page sends along unseen goes along.
        for (const unseen of form.querySelectorAll<HTMLInputElement>('input[type=hidden][name^=_]'))
          if (!['_at', '_edition'].includes(unseen.name)) box.firstElementChild!.append(unseen)
        const again = box.firstElementChild as HTMLFormElement
        if (form.isConnected) form.replaceWith(again)
        return anew(again, { ...old, seed: before.seed }, before.seed)
      }
      since = before.since
      skipped = before.skipped
      fill(form, before.answers)
      if (before.came) this.drawn(before.came.html, before.came.finished)
      else live.turn(before.at)
    },
    since: () => since,
    /** What goes along with the answers. */
    more: () => (nameless() ? { nameless: true } : came ? { finished: came.finished } : {}),
    answers(answers: Answers): Answers {
      if (!nameless()) return answers
      return Object.fromEntries(Object.entries(answers).filter(([name]) => !point.questions.some(q => q.key === name && q.quiz?.contact)))
    },
    /** It is over: nothing of it is kept in the browser. */
    over(): void {
      end(key)
    },
    /** Shows what somebody came to; below it, they may still be asked who they are. */
    drawn(html: string, finished?: string): void {
      const heading = form.querySelector('h1')
      const box = document.createElement('div')
      box.innerHTML = heading ? html.replace(/(<\/?)h2/g, '$1h1') : html
      const shown = (result = box.firstElementChild as HTMLElement)
      const asksOn = quiz!.after !== undefined && finished !== undefined
      if (asksOn) {
        came = { finished, html }
        askWho()
        keep()
      } else form.replaceWith(shown)
      shown.focus()
      shown.querySelector('.cv-again')?.addEventListener('click', event => {
        event.preventDefault()
        end(key)
        for (const rest of shown.parentNode!.querySelectorAll('form.cv,.cv-thanks')) if (rest !== shown) rest.remove()
        shown.replaceWith(blank)
        anew(blank, point, seed)
        blank.querySelector<HTMLElement>('input:not([type=hidden])')?.focus()
      })
      const share = shown.querySelector<HTMLAnchorElement>('.cv-share')
      share?.addEventListener('click', event => {
        if (!navigator.share && !navigator.clipboard) return
        event.preventDefault()
        const given = navigator.share
          ? navigator.share({ title: shown.querySelector('.cv-title')!.textContent!, url: share.href })
          : navigator.clipboard.writeText(share.href).then(() => {
              share.textContent = quiz!.copied!
            })
        given.catch((error: DOMException) => error.name !== 'AbortError' && location.assign(share.href))
      })
    },
  }
}
export type Going = ReturnType<typeof goThrough>

/** The quiz as it was begun, where another edition, another language or another order is shown by now; null when there is no need, or it is not to be had. */
async function asBegun(before: Begun, point: PublicPoint & { seed?: number }, base: string): Promise<PublicPoint | null> {
  if (before.edition === point.edition && before.language === point.language)
    return point.seed === undefined || point.seed === before.seed ? null : point
  const answer = await fetch(
    `${base}/w/points/${point.key}?${new URLSearchParams({ edition: String(before.edition), lang: before.language })}`,
  ).catch(() => null)
  const old = answer?.ok ? ((await answer.json()) as PublicPoint) : null
  return old?.edition === before.edition ? old : null
}

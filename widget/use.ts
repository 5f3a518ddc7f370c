import type { PublicPoint } from '#core/points/definition'
import type { Tools } from './tools'

/** Tells the trail how somebody fares with a form: seen, begun, each question with its time, left or finished. */
export function watchUse(form: HTMLFormElement, point: PublicPoint, placement: string, tools: Tools) {
  const at = { point: point.key, edition: point.edition, placement, ...variantOf(point) }
  const told = new Set<string>()
  const been = new Set<string>()
  let question = ''
  let since = 0
  const tell = (what: 'seen' | 'started' | 'left' | 'finished', more = {}) => {
    if (told.has(what)) return
    told.add(what)
    tools.record(what, { ...at, ...more }, what === 'finished')
  }
  function leaveQuestion(): void {
    if (question && told.has('started')) {
      tools.record('question', {
        ...at,
        question,
        seconds: Math.round((Date.now() - since) / 1000),
        ...(!been.has(question) && { first: true }),
      })
      been.add(question)
    }
    question = ''
  }
  form.addEventListener('focusin', event => {
    const now = (event.target as Element).closest<HTMLElement>('[data-question]')?.dataset.question ?? ''
    if (!now || now === question) return
    leaveQuestion()
    question = now
    since = Date.now()
  })
  form.addEventListener(
    'input',
    () => {
      tell('seen')
      tell('started')
    },
    { once: true },
  )
  tools.onLeave(() => {
    const last = question
    leaveQuestion()
    if (told.has('started') && !told.has('finished') && form.isConnected) tell('left', last ? { question: last } : {})
  })
  if ('IntersectionObserver' in window) {
    const watcher = new IntersectionObserver(
      seen => {
        if (!seen.some(s => s.isIntersecting)) return
        watcher.disconnect()
        tell('seen')
      },
      { threshold: 0.3 },
    )
    watcher.observe(form)
  } else tell('seen')
  return {
    finished() {
      leaveQuestion()
      tell('finished')
    },
  }
}

/** What is said of the variant that was shown. */
export const variantOf = (point: PublicPoint & { variant?: string }) =>
  point.variant ? { experiment: point.experiment, variant: point.variant } : {}

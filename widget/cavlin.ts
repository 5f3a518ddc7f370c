import { agree, decline, forget, visitorIfAgreed } from './agreement'
import { adopt, mount } from './mount'
import { seePage } from './trail'

/**
 * The script that a customer's page loads. One global name, `cavlin`; every error is its own.
 *
 *   <script async src="https://…/w/cavlin.js" data-point="KEY"></script>   draws the form in its place
 *   <script defer src="…/w/cavlin.js" data-own="page"></script>               brings the form of a page of ours to life
 *   cavlin('agree')  cavlin('decline')  cavlin('forget')                    what the visitor agreed to
 */
type Call = [name: string]
interface Entrance { (...call: Call): unknown; q?: Call[] }
declare global {
  interface Window { cavlin?: Entrance }
}

function start(): void {
  const own = document.currentScript as HTMLScriptElement | null
  const scripts = own ? [own] : [...document.querySelectorAll<HTMLScriptElement>('script[src*="/w/cavlin.js"]')]
  for (const script of scripts) {
    const base = new URL(script.src).origin
    const key = script.dataset.point
    if (key) void mount(base, key, script).catch(report)
    if (script.dataset.own === 'page') adopt()
    // Several forms on a page: the first script looks after the rest.
    if (window.cavlin && !window.cavlin.q) continue
    const waiting = window.cavlin?.q ?? []
    window.cavlin = (...call) => {
      try {
        return answer(base, call)
      } catch (error) {
        report(error)
      }
    }
    if (script.dataset.agreement === 'not-needed') agree()
    waiting.forEach(call => window.cavlin!(...call))
    if (visitorIfAgreed()) seePage(base)
  }
}

function answer(base: string, [name]: Call): unknown {
  if (name === 'agree') {
    if (!visitorIfAgreed() && agree()) seePage(base)
    return Boolean(visitorIfAgreed())
  }
  if (name === 'decline') return decline()
  if (name === 'forget') return forget(base)
  if (name === 'agreed') return Boolean(visitorIfAgreed())
  return undefined
}

function report(error: unknown): void {
  console.warn('Cavlin:', error)
}

try {
  start()
} catch (error) {
  report(error)
}

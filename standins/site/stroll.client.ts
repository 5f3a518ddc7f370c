/**
 * Lets made-up people stroll over the site: each in a frame of this browser, through the site's real pages with the real script on
 * them. They read, agree or do not, begin a form, leave it or send it. Nothing is posted past what they do.
 */
interface Person {
  first: string
  last: string
  firm: string
  sector: string
  phone: string
  message: string
}
type Intent = 'reads' | 'begins' | 'sends'

const AT_ONCE = 4
const MINUTES = 4
const FIRST = [
  'Alba',
  'Benno',
  'Clio',
  'Dorian',
  'Elske',
  'Florent',
  'Gerda',
  'Hannes',
  'Ilka',
  'Joris',
  'Kirsi',
  'Leopold',
  'Mirthe',
  'Noor',
  'Oswin',
  'Petronel',
]
const LAST = [
  'Amberley',
  'Birkenshaw',
  'Crowmarsh',
  'Dellafield',
  'Everglade',
  'Fossway',
  'Gillyflower',
  'Heronsgate',
  'Ivorywell',
  'Juniper',
  'Kestrelman',
  'Lindenbaum',
]
const FIRMS = [
  ['Quernmoor Primary', 'school'],
  ['The Copper Pan', 'restaurant'],
  ['Dunlow Town Council', 'council'],
  ['Saltmarsh Growers', 'market_garden'],
  ['', 'private'],
] as const
const MESSAGES = [
  'A room where thirty can work at once.',
  'Herbs through the winter, on a flat roof.',
  'The old house leaks, and we meet next month.',
  'Something small, but not ugly.',
]
const ROUTES = [
  ['/growing-houses', '/prices', '/contact'],
  ['/journal', '/journal/winter-light', '/contact'],
  ['/prices', '/contact'],
  ['/growing-houses', '/journal/heating-with-compost', '/prices'],
]

const pick = <T>(of: readonly T[]): T => of[Math.floor(Math.random() * of.length)]!
const digits = (n: number) => Array.from({ length: n }, () => Math.floor(Math.random() * 10)).join('')
const pause = (seconds: number) => new Promise<void>(done => setTimeout(done, seconds * 1000 * (0.7 + Math.random() * 0.6)))
/** Gone since, together with whoever strolled in it. */
class Closed extends Error {}

/** What each of them keeps: frames of one site would otherwise all be the same visitor. The site's pages look for it by the frame's name. */
const strollers: Record<string, Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>> = {}
Object.assign(window, { strollers })
function ownStorage(): Pick<Storage, 'getItem' | 'setItem' | 'removeItem'> {
  const kept = new Map<string, string>()
  return {
    getItem: key => kept.get(key) ?? null,
    setItem: (key, value) => void kept.set(key, String(value)),
    removeItem: key => void kept.delete(key),
  }
}

let ends = 0
let count = 0
const stage = document.getElementById('stage')!
const button = document.getElementById('send') as HTMLButtonElement

function somebody(): Person {
  const [firm, sector] = pick(FIRMS)
  // Numbers that are kept free for stories.
  return { first: pick(FIRST), last: pick(LAST), firm, sector, phone: `06 39 98 ${digits(2)} ${digits(2)}`, message: pick(MESSAGES) }
}

async function stroll(): Promise<void> {
  const who = somebody()
  const intent = pick<Intent>(['reads', 'reads', 'begins', 'sends', 'sends'])
  const route = intent === 'reads' ? pick(ROUTES) : pick(ROUTES.filter(r => r.includes('/contact')))
  const name = `stroller-${++count}`
  strollers[name] = ownStorage()
  const box = document.createElement('figure')
  const frame = document.createElement('iframe')
  const says = document.createElement('figcaption')
  frame.name = name
  frame.title = `${who.first} ${who.last}`
  const view = document.createElement('div')
  view.append(frame)
  box.append(view, says)
  stage.append(box)
  const tell = (text: string) => {
    says.textContent = `${who.first} ${who.last} ${text}`
  }
  const page = () => {
    if (!frame.isConnected) throw new Closed()
    return frame.contentDocument!
  }
  const open = (path: string) =>
    new Promise<void>(done => {
      frame.addEventListener('load', () => done(), { once: true })
      const link = frame.contentDocument?.querySelector<HTMLAnchorElement>(`a[href="${path}"]`)
      if (link) link.click()
      else frame.src = path
    })
  async function read(seconds: number): Promise<void> {
    for (let n = 0; n < seconds; n += 1.5) {
      const { defaultView, documentElement } = page()
      defaultView!.scrollBy({ top: documentElement.clientHeight * 0.35, behavior: 'smooth' })
      await pause(1.5)
    }
  }

  try {
    await open('/')
    tell('looks around')
    await pause(2)
    const agrees = intent === 'sends' || Math.random() < 0.7
    page()
      .querySelector<HTMLButtonElement>(`#ask [data-say=${agrees ? 'agree' : 'forget'}]`)
      ?.click()
    await read(5)
    for (const path of route) {
      await open(path)
      tell(`reads ${page().querySelector('h1')?.textContent ?? path}`)
      await read(6)
    }
    if (intent === 'reads') return tell('leaves')
    const host = page().querySelector('[data-cavlin]')
    if (host) show(host)
    const form = host?.shadowRoot?.querySelector('form')
    if (!form) return tell('finds no form')
    tell('begins the form')
    const asked = [...form.querySelectorAll<HTMLElement>('[data-question]')]
    for (const [n, question] of asked.entries()) {
      page()
      show(question)
      await answer(question, who)
      if (intent === 'begins' && n >= 3) return tell('thinks better of it, and leaves')
    }
    await pause(2)
    form.querySelector<HTMLButtonElement>('.cv-send')?.click()
    tell('sends the form')
    await pause(6)
  } catch (error) {
    if (!(error instanceof Closed)) throw error
  } finally {
    await pause(1)
    // A tab that closes says so.
    frame.src = 'about:blank'
    await pause(0.5)
    box.remove()
    delete strollers[name]
  }
}

/** Scrolls the frame, and not the page around it. */
function show(at: Element): void {
  const { defaultView: view } = at.ownerDocument
  view!.scrollBy({ top: at.getBoundingClientRect().top - view!.innerHeight / 3, behavior: 'smooth' })
}

/** Answers a question as hands do: one thing after the other, with the events that come of it. */
async function answer(question: HTMLElement, who: Person): Promise<void> {
  const choices = [...question.querySelectorAll<HTMLInputElement>('input[type=radio]')]
  if (choices.length) {
    await pause(1.2)
    return (choices.find(c => c.value === who.sector) ?? pick(choices)).click()
  }
  const field = question.querySelector<HTMLInputElement | HTMLTextAreaElement>(
    'input:not([type=hidden],[type=checkbox],[type=file]),textarea',
  )
  if (!field) return
  const known: Record<string, string> = {
    first_name: who.first,
    last_name: who.last,
    company: who.firm,
    phone: who.phone,
    message: who.message,
    email: `${who.first}.${who.last}.${Date.now().toString(36)}@strollers.example`.toLowerCase(),
  }
  const text = known[question.dataset.question ?? ''] ?? ''
  if (!text) return
  field.focus()
  for (const part of text.match(/.{1,4}/gs) ?? []) {
    field.value += part
    field.dispatchEvent(new Event('input', { bubbles: true, composed: true }))
    await pause(0.12)
  }
  field.dispatchEvent(new Event('change', { bubbles: true, composed: true }))
  field.blur()
}

async function keepStrolling(): Promise<void> {
  while (Date.now() < ends) {
    await stroll()
    await pause(2)
  }
}

button.addEventListener('click', async () => {
  if (Date.now() < ends) {
    ends = 0
    stage.replaceChildren()
    return
  }
  ends = Date.now() + MINUTES * 60_000
  button.textContent = 'That is enough'
  await Promise.all(
    Array.from({ length: AT_ONCE }, async (_, n) => {
      await new Promise(done => setTimeout(done, n * 2500))
      await keepStrolling()
    }),
  )
  button.textContent = 'Send visitors'
})

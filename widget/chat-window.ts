import type { PublicLine } from '#core/chat/lines'
import type { PublicPoint } from '#core/points/definition'
import { directionOf, languageMarkup } from '#core/languages/language'
import { escapeHtml as e } from '#core/text'
import type { Conversation, Opened } from './conversation'

/** The window of a chat: what was said as minutes, and below it what can be said now. */
export interface Window {
  remove: () => void
}
interface How {
  by: Opened
  side?: 'start' | 'end'
  shut: (() => void) | null
  focus: boolean
}

export function openWindow(root: ShadowRoot, point: PublicPoint, talk: Conversation, how: How): Window {
  const words = point.chat!.words
  const box = document.createElement('section')
  box.className = how.shut ? `cv-chat ${point.chat!.place} ${how.side}` : 'cv-chat cv-inline'
  box.setAttribute('aria-label', point.title)
  if (how.shut) box.setAttribute('role', 'dialog')
  box.innerHTML = `<div class="cv" ${languageMarkup(point.language)}>
<div class="cv-head"><h2>${e(point.title)}</h2><p class="cv-with"></p>${how.shut ? `<button type="button" class="cv-shut" aria-label="${e(words.close)}">×</button>` : ''}</div>
<div class="cv-log" role="log" aria-live="polite" aria-label="${e(words.said)}" tabindex="0"></div>
<p class="cv-status" role="status"></p><p class="cv-flaw" role="alert"></p>
<div class="cv-ask"></div>
<form class="cv-write"><label class="cv-unseen" for="cv-message">${e(words.write)}</label><textarea id="cv-message" rows="1" maxlength="2000" placeholder="${e(words.write)}"></textarea><input type="file" class="cv-files" multiple hidden><button type="button" class="cv-attach" aria-label="${e(words.file)}" title="${e(words.file)}"><svg viewBox="0 0 24 24" aria-hidden="true"><path d="M14 3H6v18h12V7zv4h4M12 18v-7m-3 3 3-3 3 3"/></svg></button><button class="cv-button">${e(words.send)}</button></form></div>`
  const part = <E extends HTMLElement>(selector: string) => box.querySelector<E>(selector)!
  const [log, ask, write, status, flaw] = [
    part('.cv-log'),
    part('.cv-ask'),
    part<HTMLFormElement>('.cv-write'),
    part('.cv-status'),
    part('.cv-flaw'),
  ]
  const text = part<HTMLTextAreaElement>('textarea')
  const clock = new Intl.DateTimeFormat(point.language, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' })
  const drawn = new Map<string, HTMLElement>()
  let asked = ''
  let wantsFocus = how.focus

  /** Adds what is new; what stands there is not touched, so that it is spoken once. @returns whether the last line is to be in sight */
  function drawLines(): boolean {
    const below = log.scrollHeight - log.scrollTop - log.clientHeight < 60
    const before = drawn.size
    let last = ''
    const known = new Set<string>()
    for (const line of talk.lines) {
      if (!line.text && !(line.html && line.what === 'picture')) continue
      known.add(line.id)
      const who = line.by === 'visitor' ? words.you : line.by === 'member' ? line.name! : line.by === 'house' ? '' : point.title
      put(line.id, line, who === last ? '' : who)
      if (line.by !== 'house') last = who
    }
    for (const { message, text } of talk.unsent) {
      known.add(message)
      put(message, { at: Date.now(), by: 'visitor', text } as PublicLine, last === words.you ? '' : words.you).classList.add('unsent')
      last = words.you
    }
    for (const [id, el] of drawn) {
      if (known.has(id)) continue
      drawn.delete(id)
      el.remove()
    }
    return below || drawn.size !== before
  }
  function put(id: string, line: PublicLine, who: string): HTMLElement {
    let el = drawn.get(id)
    if (!el) {
      el = document.createElement('div')
      el.className = `cv-line ${line.by}`
      el.innerHTML = `<time>${e(clock.format(line.at))}</time><div><b></b><p dir="auto"></p></div>`
      el.querySelector('p')!.textContent = line.text
      if (line.what === 'note' && line.html) rich(el, line.html)
      else if (line.what === 'picture' && line.html) el.querySelector('div')!.insertAdjacentHTML('beforeend', line.html)
      if (line.from) {
        const from = document.createElement('small')
        from.textContent = line.from
        el.querySelector('div')!.append(from)
      }
      log.append(el)
      drawn.set(id, el)
    }
    // What is on its way has only the names of its files.
    if (line.files && !el.querySelector('a')) el.querySelector('p')!.replaceChildren(...line.files.map(fileLink))
    el.classList.remove('unsent')
    const name = el.querySelector('b')!
    if (name.textContent !== who) name.textContent = who
    return el
  }

  /** A note, as our server draws it: without markup of its own. */
  function rich(el: HTMLElement, html: string): void {
    const drawn = document.createElement('div')
    drawn.className = 'cv-rich'
    drawn.dir = 'auto'
    drawn.innerHTML = html
    for (const link of drawn.querySelectorAll('a')) Object.assign(link, { target: '_blank', rel: 'noopener' })
    el.querySelector('p')!.replaceWith(drawn)
  }

  function fileLink(file: NonNullable<PublicLine['files']>[number]): HTMLElement {
    const link = document.createElement('a')
    Object.assign(link, { href: file.url, target: '_blank', rel: 'noopener', textContent: file.name })
    if (!file.isPicture) return link
    const picture = new Image()
    const isBelow = log.scrollHeight - log.scrollTop - log.clientHeight < 60
    picture.addEventListener('load', () => {
      if (isBelow) log.scrollTop = log.scrollHeight
    })
    // Where a page lets no picture of ours through, its name is there to be opened.
    picture.addEventListener('error', () => link.replaceChildren(file.name))
    Object.assign(picture, { alt: file.name, src: file.url })
    link.replaceChildren(picture)
    return link
  }

  /** What is asked now: things to press, a drawn question, how it was. */
  function drawAsk(): void {
    const { state } = talk
    const pending = talk.unsent.length > 0
    const line = talk.lines.findLast(l => l.choices || (l.html && l.what !== 'picture' && l.what !== 'note'))
    const now = !state || pending ? 'busy' : `${state.waits} ${state.open} ${line?.n} ${line?.choices?.length}`
    // Files go along where nothing else is asked.
    part('.cv-attach').hidden = !state || !['nothing', 'address'].includes(state.waits)
    write.hidden = Boolean(state && (!state.open || state.waits === 'answer' || state.waits === 'rating'))
    if (now === asked) return
    asked = now
    const held = ask.contains(root.activeElement) || root.activeElement === text
    ask.replaceChildren()
    if (!state || pending) return
    if (line?.choices && ['choice', 'right', 'time', 'mean'].includes(state.waits)) choices(line)
    else if (line?.html && (state.waits === 'answer' || state.waits === 'address')) question(line, state.waits)
    else if (state.waits === 'rating') rating()
    else if (!state.open) over()
    if (held || wantsFocus) focus()
  }
  function focus(): void {
    wantsFocus = false
    const first = talk.state?.waits === 'address' ? null : ask.querySelector<HTMLElement>('input,select,textarea,button')
    ;(first ?? (write.hidden ? log : text)).focus()
  }
  function button(label: string, press: () => void, plain = true): HTMLButtonElement {
    const el = document.createElement('button')
    el.type = 'button'
    el.className = plain ? 'cv-choose' : 'cv-button'
    el.textContent = label
    el.addEventListener('click', press)
    return el
  }
  function choices(line: PublicLine): void {
    line.choices!.forEach((choice, n) => ask.append(button(choice, () => talk.say(choice, { kind: 'choice', n, to: line.n }))))
  }
  function question(line: PublicLine, waits: 'answer' | 'address'): void {
    const form = document.createElement('form')
    form.noValidate = true
    form.innerHTML = `${line.html}<div class="cv-acts"><button class="cv-button">${e(words.send)}</button></div>`
    const radios = [...form.querySelectorAll<HTMLInputElement>('[type=radio]')]
    const skips = () => button(words.skip, () => talk.say(words.skip, { kind: 'answer', values: [], to: line.n }))
    if (radios.length && waits === 'answer') {
      // One of several is pressed, not chosen and then sent: by arrow keys a radio would be chosen in passing.
      for (const radio of radios) {
        const { value } = radio
        const text = radio.closest('label')!.textContent!.trim()
        ask.append(button(text, () => talk.say(text, { kind: 'answer', values: [value], to: line.n })))
      }
      if (!radios[0]!.required) ask.append(skips())
      return
    }
    const label = form.querySelector('label,legend')
    // The question stands in the log already; here it is only its field's name.
    const ticks = label?.closest('.cv-question')?.querySelector('[type=checkbox]:only-of-type')
    if (waits === 'address') form.className = 'cv-address'
    else if (!ticks) label?.classList.add('cv-unseen')
    const optional = !form.querySelector('[required]')
    if (optional && waits === 'answer') form.querySelector('.cv-acts')!.append(skips())
    form.addEventListener('submit', event => {
      event.preventDefault()
      const chosen = [...new FormData(form).values()].filter((v): v is File => v instanceof File && v.size > 0)
      if (chosen.length) return sendFiles(chosen, line.n)
      const values = [...new FormData(form).values()].filter(v => typeof v === 'string').filter(v => v.trim())
      const shown =
        [...form.querySelectorAll<HTMLInputElement>(':checked')]
          .map(c => c.closest('label')?.textContent ?? (c as unknown as HTMLOptionElement).text)
          .join(', ') || values.join(', ')
      if (!values.length) return void form.querySelector<HTMLElement>('input,select,textarea')?.focus()
      talk.say(shown, waits === 'address' ? { kind: 'address', text: values[0] } : { kind: 'answer', values, to: line.n })
    })
    ask.append(form)
  }
  function rating(): void {
    const add = document.createElement('textarea')
    add.rows = 2
    add.maxLength = 2000
    add.placeholder = words.add
    add.setAttribute('aria-label', words.add)
    const row = document.createElement('div')
    row.className = 'cv-rates'
    row.setAttribute('role', 'group')
    row.setAttribute('aria-label', words.rate)
    words.rates.forEach((word, i) => row.append(button(word, () => talk.say(word, { kind: 'rating', n: i + 1, text: add.value }))))
    ask.append(add, row)
  }
  function over(): void {
    const p = document.createElement('p')
    p.textContent = words.over
    ask.append(
      p,
      button(words.again, () => {
        talk.forget()
        asked = ''
        void begin()
      }),
    )
  }

  function draw(): void {
    const { state } = talk
    const follows = drawLines()
    drawAsk()
    // What is asked below takes room from what was said.
    if (follows) log.scrollTop = log.scrollHeight
    part('.cv-with').textContent = state?.with ?? ''
    const own = talk.lines.findLast(l => l.by === 'visitor')
    const isLast = own && own === talk.lines.findLast(l => l.text)
    const stuck = talk.unsent.length > 0 && !navigator.onLine
    const says = stuck
      ? words.unsent
      : talk.typing
        ? words.typing.replace('{name}', () => talk.typing)
        : isLast && state && state.read >= own.n && state.with
          ? words.read
          : ''
    if (status.textContent !== says) status.textContent = says
    if (flaw.textContent !== talk.flaw) flaw.textContent = talk.flaw
    if (document.visibilityState === 'visible') talk.read()
  }
  const begin = () =>
    talk.begin(how.by).catch((error: Error) => {
      flaw.textContent = 'status' in error ? error.message : words.failed
      write.hidden = true
      ask.replaceChildren(
        button(words.again, () => {
          flaw.textContent = ''
          asked = ''
          void begin()
        }),
      )
    })

  const send = () => {
    const said = text.value.trim()
    if (!said) return text.focus()
    text.value = ''
    grow()
    talk.say(said, { kind: 'text', text: said })
    text.focus()
  }
  const sendFiles = (files: File[], to?: number) => talk.say(files.map(f => f.name).join(', '), to ? { to } : {}, files)
  const chooser = part<HTMLInputElement>('.cv-files')
  part('.cv-attach').addEventListener('click', () => chooser.click())
  chooser.addEventListener('change', () => {
    if (chooser.files!.length) sendFiles([...chooser.files!])
    chooser.value = ''
    text.focus()
  })
  text.addEventListener('paste', event => {
    const files = [...(event.clipboardData?.files ?? [])]
    if (!files.length || part('.cv-attach').hidden) return
    event.preventDefault()
    sendFiles(files)
  })
  const grow = () => {
    text.style.height = 'auto'
    text.style.height = `${Math.min(text.scrollHeight + 2, 140)}px`
  }
  write.addEventListener('submit', event => {
    event.preventDefault()
    send()
  })
  text.addEventListener('keydown', event => {
    if (event.key !== 'Enter' || event.shiftKey || event.isComposing) return
    event.preventDefault()
    send()
  })
  text.addEventListener('input', () => {
    grow()
    talk.types()
  })
  if (how.shut) {
    part('.cv-shut').addEventListener('click', how.shut)
    box.addEventListener('keydown', event => event.key === 'Escape' && how.shut!())
  }
  const stop = talk.onChange(draw)
  const looked = () => draw()
  document.addEventListener('visibilitychange', looked)
  root.append(box)
  box.dir = directionOf(point.language)
  if (talk.id) draw()
  else void begin()
  if (how.focus && talk.state) focus()
  return {
    remove() {
      stop()
      document.removeEventListener('visibilitychange', looked)
      box.remove()
    },
  }
}

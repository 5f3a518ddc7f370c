import { conditionOfLine } from '#core/chat/condition-line'
import { APART, INDENT, unescaped } from '#core/chat/script-signs'
import type { Flow, Step } from '#core/chat/shapes'
import { isLast } from '#core/chat/ways'

/** What is wrong with a script, and where. */
export interface ScriptFlaw {
  /** Counted from 1. */
  line: number
  message: string
}

interface Line {
  n: number
  depth: number
  text: string
}

/**
 * Reads a script. Steps without a key get one that is free.
 * @returns the flow, its steps in the order of their lines; or what is wrong, by lines
 */
export function ofScript(script: string): { flow: Flow; flaws: [] } | { flow: null; flaws: ScriptFlaw[] } {
  const flaws: ScriptFlaw[] = []
  const lines: Line[] = []
  script.split(/\r?\n/).forEach((raw, i) => {
    if (!raw.trim()) return
    const lead = /^\s*/.exec(raw)![0].replaceAll('\t', INDENT)
    if (lead.length % INDENT.length) flaws.push({ line: i + 1, message: 'Each step inwards is two spaces.' })
    lines.push({ n: i + 1, depth: Math.floor(lead.length / INDENT.length), text: raw.trim() })
  })
  const taken = new Set(lines.map(l => KEYED.exec(l.text)?.[1]).filter(key => key !== undefined))
  const reading: Reading = { lines, at: 0, steps: [], flaws, taken, jumps: [], settle: [] }
  let start: string | null = null
  for (let first = true; reading.at < lines.length; first = false) {
    const from = readBlock(reading, 0, null)
    if (first) start = from()
    const line = lines[reading.at]
    if (line?.text === APART && line.depth === 0) reading.at++
    else if (line) {
      flaws.push({ line: line.n, message: 'This stands further in than anything it could belong to.' })
      reading.at++
    }
  }
  reading.settle.forEach(put => put())
  const keys = new Set(reading.steps.map(s => s.key))
  for (const jump of reading.jumps) if (!keys.has(jump.to)) flaws.push({ line: jump.line, message: `No step is called “${jump.to}”.` })
  return flaws.length ? { flow: null, flaws: flaws.sort((a, b) => a.line - b.line) } : { flow: { start, steps: reading.steps }, flaws: [] }
}

interface Reading {
  lines: Line[]
  at: number
  steps: Step[]
  flaws: ScriptFlaw[]
  taken: Set<string>
  jumps: { to: string; line: number }[]
  /** Puts down where each step leads. */
  settle: (() => void)[]
}
/** Where something leads: known only once what comes behind it is read. */
type Target = () => string | null

const KEYED = /^([a-z][a-z0-9_]{0,49}): (.*)$/s
const keyFor = ({ taken }: Reading, kind: string): string => {
  let n = 1
  while (taken.has(`${kind}_${n}`)) n++
  taken.add(`${kind}_${n}`)
  return `${kind}_${n}`
}

/** Reads lines of one depth. @param after where the last of them goes on. @returns where the block begins */
function readBlock(r: Reading, depth: number, after: Target | null): Target {
  const line = r.lines[r.at]
  if (!line || line.depth < depth || line.text === APART) return after ?? (() => null)
  if (line.depth > depth) {
    r.flaws.push({ line: line.n, message: 'This stands further in than anything it could belong to.' })
    r.at++
    return readBlock(r, depth, after)
  }
  r.at++
  const jump = /^go to (\S+)$/.exec(line.text)
  if (jump || line.text === 'rest') {
    nothingBehind(r, depth)
    if (jump) r.jumps.push({ to: jump[1]!, line: line.n })
    return () => jump?.[1] ?? null
  }
  const step = readStep(r, line)
  if (!step) {
    skipUnder(r, depth)
    return readBlock(r, depth, after)
  }
  r.steps.push(step)
  readUnder(r, step, depth, after)
  return () => step.key
}

/** After what leads away, only what is further out is read. */
function nothingBehind(r: Reading, depth: number): void {
  const next = r.lines[r.at]
  if (!next || next.depth < depth || next.text === APART) return
  r.flaws.push({ line: next.n, message: 'Nothing comes here: the line above leads away.' })
  while (r.lines[r.at] && r.lines[r.at]!.depth >= depth && r.lines[r.at]!.text !== APART) r.at++
}
function skipUnder(r: Reading, depth: number): void {
  while (r.lines[r.at] && r.lines[r.at]!.depth > depth) r.at++
}

/** What stands under a step, and what comes behind it. Where each leads is known once all is read. */
function readUnder(r: Reading, step: Step, depth: number, after: Target | null): void {
  let behind: Target = () => null
  while (r.lines[r.at]?.depth === depth + 1 && r.lines[r.at]!.text !== APART) {
    const line = r.lines[r.at]!
    r.at++
    const put = wayUnder(r, step, line)
    if (!put) {
      skipUnder(r, depth + 1)
      continue
    }
    const to = readBlock(r, depth + 2, isLast(step) ? after : () => behind())
    r.settle.push(() => put(to()))
  }
  if (isLast(step)) nothingBehind(r, depth)
  else behind = readBlock(r, depth, after)
  if ('then' in step) r.settle.push(() => (step.then = behind()))
}

/** Reads what introduces a way. @returns takes where it leads; undefined when there is none */
function wayUnder(r: Reading, step: Step, { text, n }: Line): ((to: string | null) => void) | undefined {
  const [mark, rest] = [/^(>|=|if|otherwise|picture)(?: |$)/.exec(text)?.[1], text.replace(/^\S+ ?/, '')]
  if (step.kind === 'say' && mark === 'picture') {
    try {
      step.picture = JSON.parse(rest) as typeof step.picture
    } catch {
      r.flaws.push({ line: n, message: 'This picture cannot be read.' })
    }
    return undefined
  }
  if (step.kind === 'say' && mark === '>') {
    const choice = { text: unescaped(rest), to: null as string | null }
    step.choices.push(choice)
    return to => (choice.to = to)
  }
  if (step.kind === 'ask' && mark === '=') {
    const way = { value: unescaped(rest), to: null as string | null }
    step.ways.push(way)
    return to => (way.to = to)
  }
  if (step.kind === 'branch' && mark === 'if') {
    const when = conditionOfLine(rest)
    if ('flaw' in when) {
      r.flaws.push({ line: n, message: when.flaw })
      return undefined
    }
    const way = { when: when.condition, to: null as string | null }
    step.ways.push(way)
    return to => (way.to = to)
  }
  if ('otherwise' in step && mark === 'otherwise') return to => (step.otherwise = to)
  r.flaws.push({ line: n, message: WHAT_STANDS_UNDER[step.kind] })
  return undefined
}

const WHAT_STANDS_UNDER: Record<Step['kind'], string> = {
  say: 'Under what is said stand choices, each behind a “>”.',
  ask: 'Under a question stand answers that lead elsewhere, each behind a “=”.',
  branch: 'Under a branch stand conditions, each behind “if”.',
  look_up: 'Under a look-up stands only “otherwise”.',
  meet: 'Under times to meet stands only “otherwise”.',
  hand_over: 'Under handing over stands only “otherwise”.',
  do: 'Nothing stands under what is done.',
  end: 'Nothing stands under an end.',
}

function readStep(r: Reading, { text: whole, n }: Line): Step | undefined {
  const keyed = KEYED.exec(whole)
  const text = keyed ? keyed[2]! : whole
  const made = madeOf(text)
  if (!made) return void r.flaws.push({ line: n, message: 'A step begins with say, ask, do, branch, look up, meet, hand over or end.' })
  const key = keyed?.[1] ?? keyFor(r, made.kind)
  if (r.steps.some(s => s.key === key)) r.flaws.push({ line: n, message: `Two steps are called “${key}”.` })
  return { key, ...made } as Step
}

type Made = { [K in Step['kind']]: Omit<Extract<Step, { kind: K }>, 'key'> }[Step['kind']]
function madeOf(line: string): Made | undefined {
  const said = (text: string | undefined) => unescaped((text ?? '').trim())
  let m: RegExpExecArray | null
  if ((m = /^say(?: (.*))?$/s.exec(line))) return { kind: 'say', text: said(m[1]), picture: null, choices: [], then: null }
  if ((m = /^ask ([a-z][a-z0-9_]{0,49})(, read back)?(?:: (.*))?$/s.exec(line)))
    return { kind: 'ask', question: m[1]!, text: said(m[3]), readBack: Boolean(m[2]), ways: [], then: null }
  if ((m = /^do(?: ([a-z0-9_, ]+))?$/s.exec(line))) {
    const parts = (m[1] ?? '')
      .split(',')
      .map(p => p.trim())
      .filter(Boolean)
    return { kind: 'do', actions: parts.filter(p => p !== 'take in'), entry: parts.includes('take in'), then: null }
  }
  if (line === 'branch') return { kind: 'branch', ways: [], then: null }
  if ((m = /^look up(?:: (.*))?$/s.exec(line))) return { kind: 'look_up', text: said(m[1]), then: null, otherwise: null }
  if ((m = /^meet (\d{1,3}) minutes?, (\d{1,2}) days?(?:: (.*))?$/s.exec(line)))
    return { kind: 'meet', minutes: Number(m[1]), days: Number(m[2]), text: said(m[3]), then: null, otherwise: null }
  if ((m = /^hand over to (\S+?)(?:: (.*))?$/s.exec(line))) return { kind: 'hand_over', to: m[1]!, text: said(m[2]), otherwise: null }
  if ((m = /^end(?: (rated|unrated)(?:: (.*))?)?$/s.exec(line))) return { kind: 'end', rating: m[1] !== 'unrated', text: said(m[2]) }
  return undefined
}

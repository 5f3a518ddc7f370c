import { LONG_TEXT } from '#core/chat/limits'
import { poolOf } from '#core/chat/pools'
import type { Flow, Step } from '#core/chat/shapes'
import { isLast, reachedFrom, stepsOf, waits, waysOf } from '#core/chat/ways'

/** Something wrong or doubtful in a flow, and the step it stands at; null: the flow as a whole. A stop keeps it from going live. */
export interface FlowCheck {
  level: 'stop' | 'hint'
  step: string | null
  message: string
}
/** What a flow refers to. */
export interface FlowSurroundings {
  questions: { key: string; label: string; choices: { value: string; text: string }[] }[]
  actions: string[]
  /** Who can be handed a conversation. */
  members: string[]
  /** The lanes of the routing plan. */
  pools: string[]
}

/** What is wrong with a flow, or doubtful: by the order of its steps. */
export function flowChecks(flow: Flow, around: FlowSurroundings): FlowCheck[] {
  const steps = stepsOf(flow)
  if (!flow.start || !steps.has(flow.start)) return [{ level: 'stop', step: null, message: 'The conversation has no first step.' }]
  const reached = reachedFrom(flow, flow.start)
  const checks: FlowCheck[] = []
  const stop = (step: string, message: string) => void checks.push({ level: 'stop', step, message })
  const hint = (step: string, message: string) => void checks.push({ level: 'hint', step, message })
  for (const step of flow.steps) {
    if (!reached.has(step.key)) hint(step.key, 'Nothing leads here.')
    for (const { to } of waysOf(step))
      if (to !== null && !steps.has(to)) stop(step.key, `It leads to “${to}”, which is not there any more.`)
    refersToNothing(step, around, message => stop(step.key, message))
    if ('text' in step && step.text.length > LONG_TEXT)
      hint(step.key, `The text has ${step.text.length} letters; from ${LONG_TEXT} on it fills the window.`)
    if (reached.has(step.key) && endsInNothing(step))
      hint(step.key, 'Nothing follows: whoever is here can only type, and waits for somebody.')
  }
  for (const key of circle(flow, reached)) stop(key, 'From here it comes round to here again without asking anything.')
  for (const [key, question] of askedTwice(flow, reached))
    hint(key, `“${around.questions.find(q => q.key === question)?.label ?? question}” was asked before on the way here.`)
  const leadsToPerson = (key: string) => [...reachedFrom(flow, key)].some(k => steps.get(k)!.kind === 'hand_over')
  // Where nothing is asked any more nobody is kept from asking for one.
  const alone = flow.steps.find(s => reached.has(s.key) && (waits(s) || s.key === flow.start) && !leadsToPerson(s.key))
  if (alone) hint(alone.key, 'From here no way leads to a person.')
  return checks
}

function refersToNothing(step: Step, around: FlowSurroundings, stop: (message: string) => void): void {
  if (step.kind === 'say') {
    if (!step.text.trim() && !step.picture) stop('It says nothing.')
    const texts = step.choices.map(c => c.text.trim().toLowerCase())
    if (new Set(texts).size < texts.length) stop('Two choices say the same.')
  }
  if (step.kind === 'do') {
    const gone = step.actions.find(key => !around.actions.includes(key))
    if (gone) stop(`The action “${gone}” is not there any more.`)
    if (!step.actions.length && !step.entry) stop('It does nothing.')
  }
  if (step.kind === 'branch' && !step.ways.length) stop('It has no condition.')
  if (step.kind === 'hand_over' && step.to !== 'plan') {
    const pool = poolOf(step.to)
    if (pool !== null && !around.pools.includes(pool)) stop(`It hands over to the lane “${pool}”, which the routing plan has no more.`)
    if (pool === null && !around.members.includes(step.to)) stop('It hands over to somebody who is not here any more.')
  }
  if (step.kind !== 'ask') return
  const question = around.questions.find(q => q.key === step.question)
  if (!question) return stop('Its question is not there any more.')
  const gone = step.ways.find(way => !question.choices.some(c => c.value === way.value))
  if (gone) stop(`“${question.label}” offers no “${gone.value}”.`)
}

/** Whether somebody may come to rest here although nobody was told. */
const endsInNothing = (step: Step): boolean =>
  isLast(step) && step.kind !== 'hand_over' ? false : waysOf(step).some(way => way.to === null)

/** Steps of a circle in which nothing waits for the visitor; empty without one. */
function circle(flow: Flow, reached: Set<string>): string[] {
  const steps = stepsOf(flow)
  const quick = (key: string | null) =>
    key !== null && reached.has(key) && !waits(steps.get(key)!) && !isLast(steps.get(key)!) ? key : null
  const done = new Set<string>()
  for (const { key } of flow.steps) {
    const path: string[] = []
    const walk = (at: string | null): string[] | null => {
      if (at === null || done.has(at)) return null
      if (path.includes(at)) return path.slice(path.indexOf(at))
      path.push(at)
      for (const way of waysOf(steps.get(at)!)) {
        const found = walk(quick(way.to))
        if (found) return found
      }
      path.pop()
      done.add(at)
      return null
    }
    const found = walk(quick(key))
    if (found) return found.slice(0, 1)
  }
  return []
}

/** Steps that ask what another one may have asked on the way there. */
function askedTwice(flow: Flow, reached: Set<string>): [step: string, question: string][] {
  const asks = flow.steps.filter(s => s.kind === 'ask' && reached.has(s.key)) as Extract<Step, { kind: 'ask' }>[]
  const behind = (step: Step) => new Set(waysOf(step).flatMap(way => [...reachedFrom(flow, way.to)]))
  const before = (step: Step & { kind: 'ask' }) => asks.filter(other => other !== step && other.question === step.question)
  return asks.filter(step => before(step).some(other => behind(other).has(step.key))).map(step => [step.key, step.question])
}

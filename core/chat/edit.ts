import type { StepKind } from '#core/chat/limits'
import type { Flow, Step } from '#core/chat/shapes'
import { waysOf } from '#core/chat/ways'

/** What a step is made with. */
function newStep(kind: StepKind, key: string, question: string): Step {
  switch (kind) {
    case 'say':
      return { kind, key, text: '', picture: null, choices: [], then: null }
    case 'ask':
      return { kind, key, question, text: '', readBack: false, ways: [], then: null }
    case 'do':
      return { kind, key, actions: [], entry: true, then: null }
    case 'branch':
      return { kind, key, ways: [{ when: { all: [] }, to: null }], then: null }
    case 'look_up':
      return { kind, key, text: '', then: null, otherwise: null }
    case 'meet':
      return { kind, key, text: '', minutes: 30, days: 14, then: null, otherwise: null }
    case 'hand_over':
      return { kind, key, text: '', to: 'plan', otherwise: null }
    case 'end':
      return { kind, key, text: '', rating: true }
  }
}

const freshKey = (kind: StepKind, taken: string[]): string => {
  for (let n = 1; ; n++) if (!taken.includes(n === 1 ? kind : `${kind}_${n}`)) return n === 1 ? kind : `${kind}_${n}`
}

/** A flow in which a way out of a step leads elsewhere. @param by as `waysOf` calls it */
export const connected = (flow: Flow, from: string, by: string, to: string | null): Flow => ({
  ...flow,
  steps: flow.steps.map(s => (s.key === from ? led(s, by, to) : s)),
})

function led(step: Step, by: string, to: string | null): Step {
  if (by === 'then' && 'then' in step) return { ...step, then: to }
  if (by === 'otherwise' && 'otherwise' in step) return { ...step, otherwise: to }
  const n = Number(by)
  if (step.kind === 'say') return { ...step, choices: step.choices.map((c, i) => (i === n ? { ...c, to } : c)) }
  if (step.kind === 'ask') return { ...step, ways: step.ways.map((w, i) => (i === n ? { ...w, to } : w)) }
  if (step.kind === 'branch') return { ...step, ways: step.ways.map((w, i) => (i === n ? { ...w, to } : w)) }
  return step
}

/**
 * A flow with one step more, behind another: what followed that one follows the new one.
 * @param question that an asking step asks to begin with
 */
export function withStep(flow: Flow, kind: StepKind, behind: string | null, question: string): { flow: Flow; key: string } {
  const key = freshKey(
    kind,
    flow.steps.map(s => s.key),
  )
  const before = flow.steps.find(s => s.key === behind)
  const by = before && ('then' in before ? 'then' : 'otherwise' in before ? 'otherwise' : null)
  const to = before ? (by ? (waysOf(before).find(w => w.by === by)?.to ?? null) : null) : flow.start
  const step = newStep(kind, key, question)
  const own = 'then' in step ? { ...step, then: to } : step
  const at = before ? flow.steps.indexOf(before) + 1 : 0
  const steps = flow.steps.toSpliced(at, 0, own)
  return { key, flow: before ? (by ? connected({ ...flow, steps }, before.key, by, key) : { ...flow, steps }) : { start: key, steps } }
}

/** A flow without a step: what led there goes on where it went on. */
export function withoutStep(flow: Flow, key: string): Flow {
  const gone = flow.steps.find(s => s.key === key)
  if (!gone) return flow
  const next = 'then' in gone ? gone.then : 'otherwise' in gone ? gone.otherwise : null
  const onward = next === key ? null : next
  const steps = flow.steps
    .filter(s => s !== gone)
    .map(s =>
      waysOf(s)
        .filter(w => w.to === key)
        .reduce((step, w) => led(step, w.by, onward), s),
    )
  return { start: flow.start === key ? onward : flow.start, steps }
}

/** A flow in which a step says, asks or does something else. */
export const withChange = (flow: Flow, changed: Step): Flow => ({
  ...flow,
  steps: flow.steps.map(s => (s.key === changed.key ? changed : s)),
})

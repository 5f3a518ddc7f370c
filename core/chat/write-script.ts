import { conditionInLine } from '#core/chat/condition-line'
import { APART, escaped, INDENT } from '#core/chat/script-signs'
import type { Flow, Step } from '#core/chat/shapes'
import { isLast } from '#core/chat/ways'

/** The ways of a step that stand under it: how each is introduced, and where it leads. */
function under(step: Step): { line: string; to: string | null }[] {
  switch (step.kind) {
    case 'say':
      return step.choices.map(c => ({ line: `> ${escaped(c.text)}`, to: c.to }))
    case 'ask':
      return step.ways.map(w => ({ line: `= ${escaped(w.value)}`, to: w.to }))
    case 'branch':
      return step.ways.map(w => ({ line: `if ${conditionInLine(w.when)}`, to: w.to }))
    case 'look_up':
    case 'meet':
    case 'hand_over':
      return [{ line: 'otherwise', to: step.otherwise }]
    default:
      return []
  }
}

function lineOf(step: Step): string {
  const text = 'text' in step && step.text ? escaped(step.text) : ''
  const colon = text && `: ${text}`
  switch (step.kind) {
    case 'say':
      return text ? `say ${text}` : 'say'
    case 'ask':
      return `ask ${step.question}${step.readBack ? ', read back' : ''}${colon}`
    case 'do':
      return `do ${[...step.actions, ...(step.entry ? ['take in'] : [])].join(', ')}`.trimEnd()
    case 'branch':
      return 'branch'
    case 'look_up':
      return `look up${colon}`
    case 'meet':
      return `meet ${step.minutes} minutes, ${step.days} days${colon}`
    case 'hand_over':
      return `hand over to ${step.to}${colon}`
    case 'end':
      return `end ${step.rating ? 'rated' : 'unrated'}${colon}`
  }
}

/**
 * A flow as an indented text, and back: both are the same thing. A line is a step; what stands under it, two spaces further in, is
 * the way of one of its choices, answers or conditions. What nothing else follows goes on with the line after the step it stands
 * under; `rest` says that it does not, `go to` leads elsewhere. A step's key stands before it.
 *
 *     hello: say Good morning. What brings you here?
 *       > I am planning something
 *         what: ask planning, read back
 *       > Only looking
 *         bye: end unrated
 *     late: hand over to plan: One of us is with you at once.
 */
export function inScript(flow: Flow): string {
  const { steps } = flow
  const lines: string[] = []
  let written = 0
  const write = (depth: number, line: string) => lines.push(INDENT.repeat(depth) + line)

  /** @param after where a line goes on that nothing follows */
  function block(from: string | null, after: string | null, depth: number): void {
    let next = from
    while (next !== after) {
      const step = steps[written]
      if (next === null) return void write(depth, 'rest')
      if (step?.key !== next) return void write(depth, `go to ${next}`)
      written++
      write(depth, `${step.key}: ${lineOf(step)}`)
      if (step.kind === 'say' && step.picture) write(depth + 1, `picture ${JSON.stringify(step.picture)}`)
      const then = 'then' in step ? step.then : null
      for (const way of under(step)) {
        write(depth + 1, way.line)
        block(way.to, isLast(step) ? after : then, depth + 2)
      }
      if (isLast(step)) return
      next = then
    }
  }

  if (flow.start !== steps[0]?.key) write(0, flow.start === null ? 'rest' : `go to ${flow.start}`)
  while (written < steps.length) {
    if (lines.length) lines.push(APART)
    block(steps[written]!.key, null, 0)
  }
  return lines.map(line => `${line}\n`).join('')
}

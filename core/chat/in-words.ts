import { poolOf } from '#core/chat/pools'
import { conditionInLine } from '#core/chat/condition-line'
import type { StepKind } from '#core/chat/limits'
import type { Step } from '#core/chat/shapes'
import type { Way } from '#core/chat/ways'

/** What each kind of step is called, with the sign that stands before it. */
export const STEP_WORDS: Record<StepKind, { name: string; sign: string; what: string }> = {
  say: { name: 'Say', sign: '“', what: 'Something is said, with choices if you like' },
  ask: { name: 'Ask', sign: '?', what: 'One of the questions is asked' },
  do: { name: 'Do', sign: '!', what: 'Actions are done, answers are taken in' },
  branch: { name: 'Branch', sign: '⑂', what: 'It goes on by what is known' },
  look_up: { name: 'Look up', sign: '¶', what: 'A question is answered from the notes' },
  meet: { name: 'Meet', sign: '◷', what: 'Free times of the owner are offered' },
  hand_over: { name: 'Hand over', sign: '→', what: 'One of us takes over' },
  end: { name: 'End', sign: '·', what: 'It is over' },
}

/** A step in one line, as people read it. @param label of a question */
export function stepInWords(step: Step, label: (question: string) => string): string {
  switch (step.kind) {
    case 'say':
      return step.text || (step.picture ? 'A picture' : 'Nothing yet')
    case 'ask':
      return step.text || label(step.question)
    case 'do':
      return [...step.actions, ...(step.entry ? ['take the answers in'] : [])].join(', ') || 'Nothing yet'
    case 'branch':
      return 'By what is known'
    case 'look_up':
      return step.text || 'What would you like to know?'
    case 'meet':
      return step.text || `${step.minutes} minutes, within ${step.days} days`
    case 'hand_over':
      return (
        step.text ||
        (step.to === 'plan'
          ? 'To whose turn it is'
          : poolOf(step.to) === null
            ? 'To a colleague'
            : `To whoever of ${poolOf(step.to)} is there`)
      )
    case 'end':
      return step.text || 'Over'
  }
}

/** What leads out of a step by a way, in words. */
export function wayInWords(step: Step, way: Way): string {
  if (way.by === 'otherwise')
    return step.kind === 'look_up' ? 'no note answers it' : step.kind === 'meet' ? 'no time suits' : 'nobody is there'
  if (way.by === 'then')
    return (step.kind === 'say' && step.choices.length) || ((step.kind === 'ask' || step.kind === 'branch') && step.ways.length)
      ? 'else'
      : ''
  const n = Number(way.by)
  if (step.kind === 'say') return step.choices[n]?.text ?? ''
  if (step.kind === 'ask') return step.ways[n]?.value ?? ''
  return step.kind === 'branch' && step.ways[n] ? conditionInLine(step.ways[n].when) : ''
}

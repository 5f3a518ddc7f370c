import { flowChecks } from '#core/chat/checks'
import { poolOf } from '#core/chat/pools'
import { reachedFrom, stepsOf, waysOf } from '#core/chat/ways'
import type { Flow } from '#core/chat/shapes'
import type { Check } from '#core/points/check'
import { choicesOf, type PointDefinition } from '#core/points/definition'
import type { Surroundings } from '#core/points/surroundings'

type Found = Pick<Check, 'level' | 'field' | 'message'>

/** What is wrong with a chat, or doubtful: its flow, and whether it knows whom it takes in. */
export function chatChecks(d: PointDefinition, around: Surroundings): Found[] {
  if (!d.chat) return []
  const { flow } = d.chat
  const steps = new Map(flow.steps.map((step, i) => [step.key, i]))
  const at = (step: string | null) => (step === null || !steps.has(step) ? 'chat.flow' : `chat.flow.steps.${steps.get(step)}`)
  const own = flowChecks(flow, {
    questions: d.questions.map(q => ({ key: q.key, label: q.label, choices: choicesOf(q) })),
    actions: d.actions.map(a => a.key),
    members: around.members ?? receiversIn(flow),
    pools: around.pools ?? receiversIn(flow).flatMap(to => poolOf(to) ?? []),
  }).map(({ level, step, message }) => ({ level, field: at(step), message }))
  const unknown = takesInUnknown(d)
  const late = tooLate(flow).map(step => ({
    level: 'stop' as const,
    field: at(step),
    message: 'What is done here comes too late: the answers were taken in before. Put it in front of that.',
  }))
  return [
    ...own,
    ...late,
    ...(unknown
      ? [
          {
            level: 'stop' as const,
            field: at(unknown),
            message: 'Somebody may come here who was not asked for their address: an entry would belong to nobody.',
          },
        ]
      : []),
  ]
}

const receiversIn = (flow: Flow): string[] => flow.steps.flatMap(s => (s.kind === 'hand_over' ? [s.to] : []))

/** Whether a chat takes answers in anywhere, as a form does. */
export const takesIn = ({ chat }: Pick<PointDefinition, 'chat'>): boolean => Boolean(chat?.flow.steps.some(s => s.kind === 'do' && s.entry))

/** The step that takes answers in and can be reached past all questions for the address; null: none. */
function takesInUnknown({ chat, questions }: PointDefinition): string | null {
  const flow = chat!.flow
  const asks = new Set(questions.filter(q => q.property === 'email').map(q => q.key))
  const past: Flow = { ...flow, steps: flow.steps.filter(s => s.kind !== 'ask' || !asks.has(s.question)) }
  const steps = stepsOf(past)
  return (
    [...reachedFrom(past, flow.start)].find(key => {
      const step = steps.get(key)!
      return step.kind === 'do' && step.entry
    }) ?? null
  )
}

/** The actions that a flow does at a step of its own; all others are done to whoever is taken in. */
export const actionsOfSteps = (flow: Flow): Set<string> => new Set(flow.steps.flatMap(s => (s.kind === 'do' ? s.actions : [])))

/** Steps that do something behind one that takes the answers in: what they do would come too late. */
export function tooLate(flow: Flow): string[] {
  const steps = stepsOf(flow)
  const behind = new Set(
    flow.steps.filter(s => s.kind === 'do' && s.entry).flatMap(s => waysOf(s).flatMap(w => [...reachedFrom(flow, w.to)])),
  )
  return [...behind].filter(key => {
    const step = steps.get(key)!
    return step.kind === 'do' && !step.entry
  })
}

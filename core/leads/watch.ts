import type { LowStep } from '#core/follow-up/state'
import { nextReminder } from '#core/follow-up/steps'
import { nextLow, promised } from '#core/follow-up/promise'
import { tell, type Rules, type Step, type Tools } from '#core/leads/book'
import { nameOf } from '#core/leads/lead'
import { lanesFor } from '#core/routing/choose'
import { accept, hoursOf, wake } from '#core/leads/work'
import { FINDS } from '#core/routing/plan'
import type { Told } from '#core/telling/telling'
import { workingMinutes } from '#core/working-time'

/**
 * What becomes due of a follow-up when nothing happens: a parked lead wakes up, a reminder is given, what was handed over and not taken
 * goes back, a promise runs out. Done here when it is time, else noted for when it will be.
 */
export function watch(rules: Rules, tools: Tools, step: Step): void {
  const isTime = step.cause === 'due'
  const { lead, at } = step
  const { wakeAt, accept: asked } = lead.followUp
  if (isTime && wakeAt !== undefined && wakeAt <= at) {
    wake(rules, step, 'time')
    notify(tools, step, lead.ownerId, `${nameOf(lead)} woke up`, 'They were parked until now. Look at them again.')
  }
  if (isTime && asked && asked.until <= at) accept(rules, tools, step, 'lapsed')
  if (isTime) remind(tools, step)
  if (isTime && !step.changes.owner) low(rules, tools, step)
  const { followUp } = lead
  step.judgeAt = Math.min(
    step.judgeAt,
    // Not again at once: a moment that has gone by and moved nothing would come for ever.
    ...[followUp.wakeAt, followUp.accept?.until, reminderAt(step), lowAt(rules, step)?.at].flatMap(due =>
      due === undefined || due === Infinity ? [] : Math.max(due, at + 1),
    ),
  )
  if (Object.keys(step.changes).length && isTime) step.changed = true
}

const notify = (tools: Tools, step: Step, to: string | null, subject: string, text: string, topic: Told = 'reminder'): void => {
  if (to !== null) step.notices.push({ id: tools.newId(step.at), to, mail: true, topic, subject, text })
}

const reminderAt = ({ lead }: Step): number | undefined =>
  lead.nextStepAt === null ? undefined : nextReminder(lead.followUp, lead.nextStepAt)

function remind(tools: Tools, step: Step): void {
  const { lead, at } = step
  const due = reminderAt(step)
  if (due === undefined || due > at) return
  lead.followUp = { ...lead.followUp, reminded: at }
  const isNow = lead.nextStepAt! <= at
  notify(
    tools,
    step,
    lead.ownerId,
    `${isNow ? 'Now' : 'Soon'}: ${lead.nextStep!}`,
    isNow ? `This was to be done about ${nameOf(lead)} now.` : `This is to be done about ${nameOf(lead)} soon.`,
  )
}

/** The next step of a promise that runs out; of who has no owner there is nobody to tell but who manages. */
function lowAt(rules: Rules, { lead }: Step) {
  const since = lead.waitingSince
  const stage = rules.stages.get(lead.status)
  // Who has bought waits like anybody; who is lost or parked waits for nobody.
  if (since === null || stage === 'lost' || stage === 'parked') return null
  const { told } = lead.followUp
  const taken = told?.since === since ? told.steps : 0
  const lane = rules.plan.lanes.find(l => l.key === lead.lane)
  const next = nextLow(rules.plan, promised(rules, lead.label, lead.lane), since, taken, hoursOf(rules, lead))
  if (!next || (next.step === 'onward' && !(lane?.onward && lead.ownerId !== null && !FINDS.has(lane.way)))) return null
  return { ...next, taken, since, lane }
}

/** Steps that come due together, since nobody looked for a while, are told as one. */
function low(rules: Rules, tools: Tools, step: Step): void {
  const { lead, at } = step
  const of = promised(rules, lead.label, lead.lane)
  const told: { to: string; step: LowStep }[] = []
  for (let next = lowAt(rules, step); next && next.at <= at; next = lowAt(rules, step)) {
    if (next.step === 'onward' && told.length) break
    lead.followUp = { ...lead.followUp, told: { since: next.since, steps: next.taken + 1 } }
    if (next.step === 'onward') {
      step.lanes = lanesFor(
        { ...rules.plan, lanes: [{ ...next.lane!, when: null, pool: next.lane!.pool.filter(s => s.member !== lead.ownerId) }] },
        () => true,
        rules.members,
        at,
        step.language,
      )
      step.leaving = lead.ownerId
      return
    }
    const owner = lead.ownerId && rules.members.has(lead.ownerId) ? [lead.ownerId] : []
    told.push(...(next.step === 'owner' ? owner : managersOf(rules, lead.ownerId)).map(to => ({ to, step: next!.step })))
    if (!told.length) told.push({ to: '', step: next.step })
  }
  const last = told.at(-1)
  if (!last) return
  const over = Math.round(workingMinutes(lead.waitingSince!, at, hoursOf(rules, lead)))
  const people = told.filter(t => t.to)
  tell(step, 'promise', { step: last.step, over, of, told: people.map(t => t.to) })
  const has = lead.ownerId ? ` ${rules.members.get(lead.ownerId)?.name ?? 'Somebody who has left'} has them.` : ''
  for (const t of people) {
    const toOwner = t.step === 'owner'
    notify(
      tools,
      step,
      t.to,
      toOwner ? `${nameOf(lead)} still waits` : `Nobody has answered ${nameOf(lead)}`,
      `${over} of ${of} promised working minutes are over.${toOwner ? '' : has}`,
      toOwner ? 'waits' : 'team',
    )
  }
}

/** Who manages is told; in a house without a manager, who looks after it. */
function managersOf(rules: Rules, owner: string | null): string[] {
  const all = [...rules.members.values()].filter(m => m.id !== owner)
  const managers = all.filter(m => m.role === 'manager')
  return (managers.length ? managers : all.filter(m => m.role === 'admin')).map(m => m.id)
}

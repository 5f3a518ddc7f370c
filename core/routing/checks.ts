import { goneIn, holdsNever, type Surroundings } from '#core/conditions/faults'
import type { Condition } from '#core/conditions/condition'
import { FINDS, type Lane, type RoutingPlan } from '#core/routing/plan'
import type { Colleague } from '#core/routing/colleagues'
import { may, type Role } from '#core/roles'

/** Something that is wrong (*stop*) or doubtful (*hint*) in a plan, with the place where it is. */
export interface PlanCheck {
  level: 'stop' | 'hint'
  /** `lanes.1`, or '' for the whole. */
  place: string
  message: string
}

/** What a plan is compared with. */
export interface PlanSurroundings extends Surroundings {
  /** Everybody who works here. */
  people: ReadonlyMap<string, Colleague & { name: string; role: Role }>
  labels: ReadonlySet<string>
  /** The days of the week on which the firm works, 1 Monday to 7 Sunday. */
  workingDays: number[]
}

const DAYS = ['', 'Mondays', 'Tuesdays', 'Wednesdays', 'Thursdays', 'Fridays', 'Saturdays', 'Sundays']
const inWords = (words: string[]) => (words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`)
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

/** Whether whoever fits one condition surely fits another, as far as their shapes tell. */
export function impliesThat(one: Condition | null, other: Condition | null): boolean {
  if (other === null || ('all' in other && !other.all.length)) return true
  if (one === null) return false
  if (same(one, other)) return true
  if ('any' in one && one.any.length) return one.any.every(c => impliesThat(c, other))
  if ('all' in other) return other.all.every(c => impliesThat(one, c))
  if ('any' in other && other.any.some(c => impliesThat(one, c))) return true
  if ('all' in one) return one.all.some(c => impliesThat(c, other))
  return chooses(one, other)
}
/** Of two choices of one attribute, whether the first has nothing that the second has not. */
function chooses(one: Condition, other: Condition): boolean {
  const chosen = (c: Condition) =>
    'attribute' in c && (c.is === 'equal' || c.is === 'one_of') ? { of: c.attribute, values: [c.value ?? []].flat().map(String) } : null
  const [a, b] = [chosen(one), chosen(other)]
  return a !== null && b !== null && a.of === b.of && a.values.length > 0 && a.values.every(v => b.values.includes(v))
}

/** Whether a lane surely gives a lead that fits it to somebody, or lets it wait: none goes on from there. */
const keepsAll = (lane: Lane, around: PlanSurroundings) =>
  !FINDS.has(lane.way) && lane.outside !== 'present' && lane.pool.some(s => around.people.get(s.member)?.mostOpen === null)

/** Everything wrong or doubtful in a plan, stops first. */
export function planChecks(plan: RoutingPlan, around: PlanSurroundings): PlanCheck[] {
  const found: PlanCheck[] = []
  const say = (level: PlanCheck['level'], place: string, message: string) => found.push({ level, place, message })
  const name = (member: string) => around.people.get(member)?.name
  plan.lanes.forEach((lane, i) => {
    const place = `lanes.${i}`
    const called = `“${lane.name}”`
    const gone = lane.when && goneIn(lane.when, around)
    if (gone) say('stop', place, `${called} asks for ${gone}.`)
    else if (lane.when && holdsNever(lane.when)) say('hint', place, `${called} can fit nobody.`)
    const above = plan.lanes.slice(0, i).find(other => keepsAll(other, around) && impliesThat(lane.when, other.when))
    if (above) say('hint', place, `${called} gets nobody: “${above.name}” above takes them all.`)
    if (Object.keys(lane.promises).some(label => !around.labels.has(label)))
      say('hint', place, `${called} promises something for a label that is gone.`)
    if (FINDS.has(lane.way)) return
    const here = lane.pool.filter(s => around.people.has(s.member))
    if (!here.length)
      return say(
        'stop',
        place,
        lane.pool.length ? `Everybody of ${called} has left. Put somebody in.` : `Nobody is in ${called}. Put somebody in.`,
      )
    if (here.length < lane.pool.length)
      say(
        'hint',
        place,
        `Of ${called}, ${lane.pool.length - here.length === 1 ? 'one has' : `${lane.pool.length - here.length} have`} left.`,
      )
    const barred = here.filter(s => !may(around.people.get(s.member)!.role, 'work leads')).map(s => name(s.member)!)
    if (barred.length)
      say(
        'stop',
        place,
        `${inWords(barred)} may not work with leads, so ${called} cannot give them any. Take them out, or change their role.`,
      )
    if (here.every(s => around.people.get(s.member)!.mostOpen === 0)) say('hint', place, `Everybody of ${called} has a limit of no leads.`)
    const free = around.workingDays.filter(day => here.every(s => !around.people.get(s.member)!.hours.week[day - 1]?.length))
    if (free.length) say('hint', place, `Nobody of ${called} works on ${inWords(free.map(day => DAYS[day]!))}.`)
  })
  const seated = new Set(plan.lanes.flatMap(lane => lane.pool.map(s => s.member)))
  const outside = [...around.people.values()].filter(p => p.role === 'sales' && !seated.has(p.id)).map(p => p.name)
  if (plan.lanes.length && outside.length) say('hint', '', `${inWords(outside)} ${outside.length === 1 ? 'is' : 'are'} in no lane.`)
  return found.sort((a, b) => Number(a.level === 'hint') - Number(b.level === 'hint'))
}

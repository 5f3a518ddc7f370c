import { goneIn, holdsNever, type Surroundings } from '#core/conditions/faults'
import type { FitRule, InterestRule, Scorecard } from '#core/scoring/scorecard'

/** Something that is wrong (*stop*) or doubtful (*hint*) in a scorecard, with the place where it is. */
export interface CardCheck {
  level: 'stop' | 'hint'
  /** `fit.2`, `interest.0`, `labels.1`, or '' for the whole. */
  place: string
  message: string
}

/** What a scorecard is compared with. */
export interface CardSurroundings extends Surroundings {
  /** Labels in their order, the lowest first, with their names. */
  labels: { key: string; name: string }[]
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

/** Everything wrong or doubtful in a scorecard, stops first. */
export function cardChecks(card: Scorecard, around: CardSurroundings): CardCheck[] {
  const found: CardCheck[] = []
  const say = (level: CardCheck['level'], place: string, message: string) => found.push({ level, place, message })
  const name = (key: string) => around.labels.find(l => l.key === key)?.name ?? key

  const rules = (all: (FitRule | InterestRule)[], axis: 'fit' | 'interest') =>
    all.forEach((rule, i) => {
      const place = `${axis}.${i}`
      const gone = rule.when && goneIn(rule.when, around)
      if (gone) say(rule.off ? 'hint' : 'stop', place, `“${rule.name}” asks for ${gone}.`)
      else if (rule.when && holdsNever(rule.when)) say('hint', place, `“${rule.name}” can hold for nobody.`)
      if (rule.from && rule.until && rule.from >= rule.until) say('stop', place, `“${rule.name}” ends before it begins: it never counts.`)
      if ('group' in rule && rule.group && !card.groups?.some(g => g.key === rule.group))
        say('stop', place, `“${rule.name}” is in a group that was removed.`)
      if (!rule.off && rule.points === 0) say('hint', place, `“${rule.name}” gives no points.`)
      const twin = all
        .slice(0, i)
        .find(o => !o.off && !rule.off && same(o.when, rule.when) && ('on' in o ? o.on : '') === ('on' in rule ? rule.on : ''))
      if (twin) say('hint', place, `“${rule.name}” holds whenever “${twin.name}” does: one rule would do.`)
    })
  rules(card.fit, 'fit')
  rules(card.interest, 'interest')

  const most = card.fit.reduce((sum, r) => sum + (r.off ? 0 : Math.max(0, r.points)), 0)
  const ranks = card.labels.map((rule, i) => ({ rule, i, rank: around.labels.findIndex(l => l.key === rule.label) }))
  for (const { rule, i, rank } of ranks) {
    const place = `labels.${i}`
    if (rank < 0) say('stop', place, `The label “${rule.label}” was removed.`)
    else if (ranks.some(o => o.i < i && o.rule.label === rule.label)) say('stop', place, `“${name(rule.label)}” has two areas.`)
    if (rule.fit > most)
      say(
        'hint',
        place,
        `Nobody can reach “${name(rule.label)}”: it asks for ${rule.fit} points of fit, and the rules give at most ${most}.`,
      )
    if (rule.interest > 0 && !card.interest.some(r => !r.off && r.points > 0))
      say('hint', place, `Nobody can reach “${name(rule.label)}”: no rule gives interest.`)
    const over = ranks.find(o => o.rank > rank && rank >= 0 && o.rule.fit <= rule.fit && o.rule.interest <= rule.interest)
    if (over) say('hint', place, `Nobody gets “${name(rule.label)}”: whoever reaches it has reached “${name(over.rule.label)}”, too.`)
  }
  for (const l of around.labels)
    if (!card.labels.some(r => r.label === l.key)) say('hint', '', `“${l.name}” has no area: only forms and people give it.`)
  if (!card.labels.length) say('stop', '', 'No label has an area: nobody would ever count as anything.')
  return found.sort((a, b) => Number(a.level === 'hint') - Number(b.level === 'hint'))
}

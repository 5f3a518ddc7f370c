import type { FitGroup, FitRule, InterestRule, Scorecard } from '#core/scoring/scorecard'

// What a manager does with a scorecard. Each gives another scorecard.

export type Axis = 'fit' | 'interest'
type Rule = FitRule | InterestRule
/** What can be changed of a rule. */
export type RuleChange = Partial<Omit<InterestRule, 'key'> & Pick<FitRule, 'group'>>

const withRules = (card: Scorecard, axis: Axis, change: (rules: Rule[]) => Rule[]): Scorecard => ({ ...card, [axis]: change(card[axis]) })

/** A key that no rule of the card has. */
function freshKey({ fit, interest }: Scorecard): string {
  const taken = new Set([...fit, ...interest].map(r => r.key))
  for (let n = 1; ; n++) if (!taken.has(`rule_${n}`)) return `rule_${n}`
}

/** A new rule at the end: of fit one that holds of everybody, of interest one for every entry; it is given its points last. */
export function addRule(card: Scorecard, axis: Axis): Scorecard {
  const base = { key: freshKey(card), name: 'A new rule', points: 5, off: false, note: '' }
  return withRules(card, axis, rules => [...rules, axis === 'fit' ? { ...base, when: { all: [] } } : { ...base, on: 'entry', when: null }])
}
export const changeRule = (card: Scorecard, axis: Axis, key: string, change: RuleChange): Scorecard =>
  withRules(card, axis, rules => rules.map(r => (r.key === key ? ({ ...r, ...change } as Rule) : r)))
export const removeRule = (card: Scorecard, axis: Axis, key: string): Scorecard =>
  withRules(card, axis, rules => rules.filter(r => r.key !== key))

/** Moves a rule by so many places, as far as there are any. */
export function moveRule(card: Scorecard, axis: Axis, key: string, by: number): Scorecard {
  return withRules(card, axis, rules => {
    const at = rules.findIndex(r => r.key === key)
    const to = Math.min(rules.length - 1, Math.max(0, at + by))
    return at < 0 ? rules : rules.toSpliced(at, 1).toSpliced(to, 0, rules[at]!)
  })
}

/** What a label asks for; null takes its area away. The areas stand in the order of the labels. @param order label keys, the lowest first */
export function setArea(card: Scorecard, label: string, area: { fit: number; interest: number } | null, order: string[]): Scorecard {
  const labels = [...card.labels.filter(r => r.label !== label), ...(area ? [{ label, ...area }] : [])]
  return { ...card, labels: labels.sort((a, b) => order.indexOf(a.label) - order.indexOf(b.label)) }
}

/** A group of rules of fit at the end; no rule is in it yet. */
export function addGroup(card: Scorecard): Scorecard {
  const groups = card.groups ?? []
  const taken = new Set(groups.map(g => g.key))
  let n = 1
  while (taken.has(`group_${n}`)) n++
  return { ...card, groups: [...groups, { key: `group_${n}`, name: 'A new group', most: 30 }] }
}
export const changeGroup = (card: Scorecard, key: string, change: Partial<Omit<FitGroup, 'key'>>): Scorecard => ({
  ...card,
  groups: (card.groups ?? []).map(g => (g.key === key ? { ...g, ...change } : g)),
})
/** Takes a group out; its rules stay, each by itself. */
export const removeGroup = (card: Scorecard, key: string): Scorecard => ({
  ...card,
  groups: (card.groups ?? []).filter(g => g.key !== key),
  fit: card.fit.map(r => (r.group === key ? { ...r, group: null } : r)),
})

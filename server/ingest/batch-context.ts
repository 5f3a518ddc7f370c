import type { Condition } from '#core/conditions/condition'
import type { Counting } from '#core/figures/facets'
import type { Rules, Tools } from '#core/leads/book'
import { expanded } from '#core/segments/segment'
import { newId } from '#server/ids'
import { personalAddress, signedAddress } from '#server/signed-addresses'
import type { Ruleset } from '#server/ruleset'
import { ownAddress } from '#server/settings'

/** The rules of a ruleset, as core applies them. */
export const rulesOf = (ruleset: Ruleset): Rules => ({
  scorecard: ruleset.scorecard,
  card: ruleset.card,
  labels: ruleset.labelOrder,
  lists: new Set(ruleset.lists.map(l => l.id)),
  plan: ruleset.plan,
  members: ruleset.members,
  firstStatus: ruleset.firstStatus,
  whole: condition => expanded(condition, ruleset.segments),
})

export const TOOLS: Tools = {
  newId,
  sign: {
    act: signedAddress,
    again: (slug, lead) => (lead === null ? `${ownAddress()}/p/${slug}` : personalAddress(slug, lead)),
  },
}

/** Putting somebody on lists takes knowing on which they are. */
export const ASKS_LISTS: Condition = { attribute: 'list', is: 'filled' }

/** What passages and labels mean for figures. */
export const countingOf = ({ statuses, labels }: Ruleset): Counting => ({
  stages: new Map(statuses.map(s => [s.key, s.stage])),
  qualified: new Set(labels.flatMap(l => (l.qualified ? l.key : []))),
})

/** The scorecard that leads are judged by, as they name it. */
export const cardOf = ({ card, scorecard }: Ruleset) => ({ number: card, halfLifeDays: scorecard.halfLifeDays })

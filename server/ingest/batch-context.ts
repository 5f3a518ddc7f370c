import type { Rules, Tools } from '#core/leads/book'
import { expanded } from '#core/segments/segment'
import { newId } from '#server/ids'
import { personalAddress, signedAddress } from '#server/signed-addresses'
import type { Ruleset } from '#server/ruleset'

/** The rules of a ruleset, as core applies them. */
export const rulesOf = (ruleset: Ruleset): Rules => ({
  scorecard: ruleset.scorecard,
  card: ruleset.card,
  labels: ruleset.labelOrder,
  plan: ruleset.plan,
  members: ruleset.members,
  firstStatus: ruleset.firstStatus,
  whole: condition => expanded(condition, ruleset.segments),
})

export const TOOLS: Tools = {
  newId,
  sign: {
    act: signedAddress,
    again: (slug, lead) => (lead === null ? `${process.env.CAVLIN_URL ?? ''}/p/${slug}` : personalAddress(slug, lead)),
  },
}

/** The scorecard that leads are judged by, as they name it. */
export const cardOf = ({ card, scorecard }: Ruleset) => ({ number: card, halfLifeDays: scorecard.halfLifeDays })

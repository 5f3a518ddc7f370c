import { hasEnded, hold } from '#core/scoring/label-held'
import type { ActionKind } from '#core/actions/action'
import { withoutAction } from '#core/actions/edit'
import type { GiveLabel } from '#core/actions/kinds/label/shape'

const DAY = 86_400_000

export const label: ActionKind<GiveLabel> = {
  moment: 'said',
  act({ label: given, how = 'floor', days = null }, { rules, step: { lead, at }, through }) {
    const label = rules.joinedLabels?.get(given) ?? given
    // What one of us fixed no form changes; a floor only rises.
    if (lead.labelHeld?.how === 'fixed' && !hasEnded(lead.labelHeld, at)) return
    const rank = (key: string | null) => rules.labels.indexOf(key ?? '')
    if (rank(label) < 0 || (how === 'floor' && rank(label) <= rank(lead.labelFloor))) return
    hold(lead, label, { how, until: days === null ? null : at + days * DAY, reason: '', by: 'point', name: through, at })
  },
  flaws: ({ key, label }, _definition, { labels }) =>
    labels.includes(label)
      ? []
      : [
          {
            field: 'label',
            message: 'This label no longer exists. Choose another.',
            mend: { name: 'Give no label', apply: withoutAction(key) },
          },
        ],
  says: ({ label, how, days }, names) =>
    `is ${how === 'fixed' ? 'exactly' : 'at least'} ${names.label(label)}${days ? ` for ${days} ${days === 1 ? 'day' : 'days'}` : ''}`,
}

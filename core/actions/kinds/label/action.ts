import type { ActionKind } from '#core/actions/action'
import { withoutAction } from '#core/actions/edit'
import type { GiveLabel } from '#core/actions/kinds/label/shape'

export const label: ActionKind<GiveLabel> = {
  moment: 'said',
  act({ label }, { rules, step: { lead } }) {
    if (rules.labels.indexOf(label) > rules.labels.indexOf(lead.labelFloor ?? '')) lead.labelFloor = label
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
  says: ({ label }, names) => `is at least ${names.label(label)}`,
}

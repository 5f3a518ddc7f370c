import type { ActionKind } from '#core/actions/action'
import { withoutAction } from '#core/actions/edit'
import type { GiveOwner } from '#core/actions/kinds/owner/shape'

export const owner: ActionKind<GiveOwner> = {
  moment: 'said',
  act({ owner }, { step, through }) {
    step.wished = { owner, point: through }
  },
  flaws: ({ key, owner }, _definition, { members }) =>
    !members || members.includes(owner)
      ? []
      : [
          {
            field: 'owner',
            message: 'Whoever should get these leads does not work here any more.',
            mend: { name: 'Leave it to the routing plan', apply: withoutAction(key) },
          },
        ],
  says: ({ owner }, names) => `goes to ${names.member(owner)}, if nobody has them yet`,
}

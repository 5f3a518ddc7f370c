import type { ActionKind } from '#core/actions/action'
import { changedAction } from '#core/actions/edit'
import type { PutOnLists } from '#core/actions/kinds/list/shape'
import { putOn } from '#core/leads/book'

export const list: ActionKind<PutOnLists> = {
  moment: 'said',
  act: ({ lists }, { rules, book, step }) => putOn(rules, book, step, { on: lists, off: [] }),
  asks: ({ lists }) => lists.map(value => ({ attribute: 'list', is: 'equal', value })),
  flaws({ key, lists }, _definition, around) {
    const there = lists.filter(l => !around.lists || around.lists.includes(l))
    const mend = { name: 'Take it out', apply: changedAction<PutOnLists>(key, { lists: there }) }
    return there.length === lists.length
      ? []
      : [{ field: 'lists', message: 'A list that people are put on does not exist any more.', mend }]
  },
  says: ({ lists }, names) => `is put on ${lists.map(names.list).join(', ')}`,
}

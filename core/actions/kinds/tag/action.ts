import type { ActionKind } from '#core/actions/action'
import type { PutTags } from '#core/actions/kinds/tag/shape'

export const tag: ActionKind<PutTags> = {
  moment: 'said',
  act({ tags }, { step: { lead } }) {
    lead.tags = [...new Set([...lead.tags, ...tags])]
  },
  says: ({ tags }) => `gets the ${tags.length === 1 ? 'tag' : 'tags'} ${tags.join(', ')}`,
}

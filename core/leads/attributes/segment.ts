import type { Attribute } from '#core/leads/attributes/attribute'
import { NotLoaded } from '#core/leads/beside'

/** Stands for the condition of the segment, which is written out before anything is judged (`core/segments/segment`). */
export const segment: Attribute = {
  name: 'segment',
  kind: 'choice',
  choices: 'segments',
  needs: [],
  words: 'in the segment',
  label: 'In the segment',
  read() {
    throw new NotLoaded('segment')
  },
  sql() {
    throw new NotLoaded('segment')
  },
}

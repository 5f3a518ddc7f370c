import type { ActivityKind } from '#core/conditions/condition'
import type { Choice } from '#core/properties/kinds'
import type { Attribute } from '~/components/ConditionTree.vue'

const YES_NO = [{ value: 'yes', text: 'Yes' }, { value: 'no', text: 'No' }]
const DEVICES = ['computer', 'phone', 'tablet', 'other'].map(value => ({ value, text: value[0]!.toUpperCase() + value.slice(1) }))
const attribute = (name: string, label: string, kind: Attribute['kind'] = 'short_text', choices: Choice[] = []): Attribute => ({ name, label, kind, choices })

/** What conditions may ask about leads, and about what they did. */
export function useLeadAttributes() {
  const house = useHouse()
  const points = shallowRef<{ key: string; name: string }[]>([])
  void api<{ key: string; name: string }[]>('/api/team/points').then((all) => { points.value = all }, () => {})
  const words = computed(() => house.words!)

  const leadAttributes = computed<Attribute[]>(() => [
    ...words.value.properties.filter(p => p.kind !== 'file' && p.sensitivity !== 'sensitive').map(p => attribute(`property.${p.key}`, p.label, p.kind, p.kind === 'yes_no' ? YES_NO : p.choices)),
    attribute('label', 'Label', 'one_of', words.value.labels.map(l => ({ value: l.key, text: l.name }))), attribute('fit', 'Fit', 'number'), attribute('interest', 'Interest', 'number'),
    attribute('tag', 'Tag'), attribute('list', 'On the list', 'one_of', words.value.lists.map(l => ({ value: l.id, text: l.name }))), attribute('segment', 'In the segment', 'one_of', words.value.segments.map(s => ({ value: s.id, text: s.name }))),
    attribute('status', 'Status', 'one_of', words.value.statuses.map(s => ({ value: s.key, text: s.name }))), attribute('status_since', 'Status since', 'date'),
    attribute('owner', 'Owner', 'one_of', words.value.members.map(m => ({ value: m.id, text: m.name }))), attribute('waiting', 'Waits for us', 'one_of', YES_NO), attribute('given', 'Has sent something', 'one_of', YES_NO),
    attribute('created', 'First came', 'date'), attribute('last_entry', 'Last entry', 'date'), attribute('last_visit', 'Last visit', 'date'), attribute('source.first', 'First came from'), attribute('source.latest', 'Came from lately'),
  ])
  const pages = [attribute('page.path', 'Path of the page'), attribute('page.title', 'Title of the page')]
  const point = computed(() => attribute('point', 'Form', 'one_of', points.value.map(p => ({ value: p.key, text: p.name }))))
  function activityAttributes(kind: ActivityKind): Attribute[] {
    switch (kind) {
      case 'page': return pages
      case 'visit': return [attribute('visit.source', 'Came from'), attribute('visit.device', 'Device', 'one_of', DEVICES), attribute('visit.language', 'Language'), attribute('visit.place', 'Place'), attribute('visit.pages', 'Pages read', 'number'), attribute('utm.campaign', 'Campaign of the link')]
      case 'entry': case 'unfinished': return [point.value, ...(kind === 'unfinished' ? [attribute('form', 'Form of the site')] : [])]
      case 'mark': return [attribute('mark', 'What was clicked'), ...pages]
      case 'file': return [attribute('file', 'Name of the file'), ...pages]
      case 'event': return [attribute('event', 'Name of the event'), ...pages]
      default: return [point.value, ...pages]
    }
  }
  return { leadAttributes, activityAttributes }
}

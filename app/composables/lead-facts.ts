import type { DeedKind } from '#core/conditions'
import type { Choice } from '#core/properties/kinds'
import type { Fact } from '~/components/ConditionTree.vue'

const YES_NO = [{ value: 'yes', text: 'Yes' }, { value: 'no', text: 'No' }]
const DEVICES = ['computer', 'phone', 'tablet', 'other'].map(value => ({ value, text: value[0]!.toUpperCase() + value.slice(1) }))
const fact = (name: string, label: string, kind: Fact['kind'] = 'short_text', choices: Choice[] = []): Fact => ({ name, label, kind, choices })

/** What conditions may ask about leads, and about what they did. */
export function useLeadFacts() {
  const house = useHouse()
  const points = shallowRef<{ key: string; name: string }[]>([])
  void api<{ key: string; name: string }[]>('/api/team/points').then((all) => { points.value = all }, () => {})
  const words = computed(() => house.words!)

  const leadFacts = computed<Fact[]>(() => [
    ...words.value.properties.filter(p => p.kind !== 'file' && p.sensitivity !== 'sensitive').map(p => fact(`property.${p.key}`, p.label, p.kind, p.kind === 'yes_no' ? YES_NO : p.choices)),
    fact('label', 'Label', 'one_of', words.value.labels.map(l => ({ value: l.key, text: l.name }))), fact('fit', 'Fit', 'number'), fact('interest', 'Interest', 'number'),
    fact('tag', 'Tag'), fact('list', 'On the list', 'one_of', words.value.lists.map(l => ({ value: l.id, text: l.name }))), fact('segment', 'In the segment', 'one_of', words.value.segments.map(s => ({ value: s.id, text: s.name }))),
    fact('status', 'Status', 'one_of', words.value.statuses.map(s => ({ value: s.key, text: s.name }))), fact('status_since', 'Status since', 'date'),
    fact('owner', 'Owner', 'one_of', words.value.members.map(m => ({ value: m.id, text: m.name }))), fact('waiting', 'Waits for us', 'one_of', YES_NO), fact('given', 'Has sent something', 'one_of', YES_NO),
    fact('created', 'First came', 'date'), fact('last_entry', 'Last entry', 'date'), fact('last_visit', 'Last visit', 'date'), fact('source.first', 'First came from'), fact('source.latest', 'Came from lately'),
  ])
  const pages = [fact('page.path', 'Path of the page'), fact('page.title', 'Title of the page')]
  const point = computed(() => fact('point', 'Form', 'one_of', points.value.map(p => ({ value: p.key, text: p.name }))))
  function deedFacts(kind: DeedKind): Fact[] {
    switch (kind) {
      case 'page': return pages
      case 'visit': return [fact('visit.source', 'Came from'), fact('visit.device', 'Device', 'one_of', DEVICES), fact('visit.language', 'Language'), fact('visit.place', 'Place'), fact('visit.pages', 'Pages read', 'number'), fact('utm.campaign', 'Campaign of the link')]
      case 'entry': case 'unfinished': return [point.value, ...(kind === 'unfinished' ? [fact('form', 'Form of the site')] : [])]
      case 'mark': return [fact('mark', 'What was clicked'), ...pages]
      case 'file': return [fact('file', 'Name of the file'), ...pages]
      case 'event': return [fact('event', 'Name of the event'), ...pages]
      default: return [point.value, ...pages]
    }
  }
  return { leadFacts, deedFacts }
}

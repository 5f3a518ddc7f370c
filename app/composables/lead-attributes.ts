import type { ActivityKind } from '#core/conditions/condition'
import type { Attribute as LeadAttribute, Choices } from '#core/leads/attributes/attribute'
import { ATTRIBUTES } from '#core/leads/attributes/registry'
import { choicesOf as choicesOfKind } from '#core/points/definition'
import type { Choice } from '#core/properties/kinds'
import type { PointListing } from '#core/team'
import type { Attribute } from '~/components/ConditionTree.vue'

const YES_NO = [
  { value: 'yes', text: 'Yes' },
  { value: 'no', text: 'No' },
]
const KINDS = { text: 'short_text', number: 'number', day: 'date', choice: 'one_of' } as const
const DEVICES = ['computer', 'phone', 'tablet', 'other'].map(value => ({ value, text: value[0]!.toUpperCase() + value.slice(1) }))
const attribute = (name: string, label: string, kind: Attribute['kind'] = 'short_text', choices: Choice[] = []): Attribute => ({
  name,
  label,
  kind,
  choices,
})

type Named = Pick<PointListing, 'key' | 'name' | 'results'>

/** What conditions may ask about leads, and about what they did. */
export function useLeadAttributes() {
  const house = useHouse()
  const points = shallowRef<Named[]>([])
  void api<Named[]>('/api/team/points').then(
    all => {
      points.value = all
    },
    () => {},
  )
  const words = computed(() => house.words!)

  const choicesOf = (choices: Choices | undefined): Choice[] => {
    const { labels, lists, segments, statuses, members } = words.value
    switch (choices) {
      case 'yes_no':
        return YES_NO
      case 'labels':
        return labels.map(l => ({ value: l.key, text: l.name }))
      case 'lists':
        return lists.map(l => ({ value: l.id, text: l.name }))
      case 'segments':
        return segments.map(s => ({ value: s.id, text: s.name }))
      case 'statuses':
        return statuses.map(s => ({ value: s.key, text: s.name }))
      case 'members':
        return members.map(m => ({ value: m.id, text: m.name }))
      default:
        return []
    }
  }
  /** A choice of which there is none can still be shown where it was asked for before, and is taken out there. */
  const ofRegistry = (a: LeadAttribute): Attribute[] =>
    a.isFamily
      ? words.value.properties
          .filter(p => p.kind !== 'file' && p.sensitivity !== 'sensitive')
          .map(p => attribute(`property.${p.key}`, p.label, p.kind, choicesOfKind(p)))
      : [attribute(a.name, a.label, KINDS[a.kind], choicesOf(a.choices))]
  const leadAttributes = computed<Attribute[]>(() => ATTRIBUTES.flatMap(ofRegistry))
  const pages = [attribute('page.path', 'Path of the page'), attribute('page.title', 'Title of the page')]
  const point = computed(() =>
    attribute(
      'point',
      'Form',
      'one_of',
      points.value.map(p => ({ value: p.key, text: p.name })),
    ),
  )
  function activityAttributes(kind: ActivityKind): Attribute[] {
    switch (kind) {
      case 'page':
        return pages
      case 'visit':
        return [
          attribute('visit.source', 'Came from'),
          attribute('visit.device', 'Device', 'one_of', DEVICES),
          attribute('visit.language', 'Language'),
          attribute('visit.place', 'Place'),
          attribute('visit.pages', 'Pages read', 'number'),
          attribute('utm.campaign', 'Campaign of the link'),
        ]
      case 'entry':
      case 'unfinished':
        return [point.value, ...(kind === 'unfinished' ? [attribute('form', 'Form of the site')] : [])]
      case 'mark':
        return [attribute('mark', 'What was clicked'), ...pages]
      case 'file':
        return [attribute('file', 'Name of the file'), ...pages]
      case 'event':
        return [attribute('event', 'Name of the event'), ...pages]
      default:
        return [point.value, ...pages]
    }
  }
  /** What people came to in quizzes; of several quizzes each result says which one it is of. */
  const quizAttributes = computed<Attribute[]>(() => {
    const quizzes = points.value.filter(p => p.results?.length)
    const results = quizzes.flatMap(p =>
      p.results!.map(r => ({ value: r.key, text: quizzes.length > 1 ? `${p.name}: ${r.title || r.key}` : r.title || r.key })),
    )
    const choices = [...Map.groupBy(results, r => r.value)].map(([value, same]) => ({ value, text: same.map(r => r.text).join(' / ') }))
    return [
      ...(choices.length ? [attribute('quiz.result', 'Result of a quiz', 'one_of', choices)] : []),
      attribute('quiz.share', 'Percent of a quiz’s marks', 'number'),
    ]
  })
  return { leadAttributes, activityAttributes, quizAttributes }
}

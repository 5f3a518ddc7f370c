import { visitorAttribute } from '#core/appearing/attributes'
import type { Names } from '#core/conditions/words'
import { attributeOf, ownName } from '#core/leads/attributes/registry'

/** What can be asked about a single act. */
const OF_ACTS: Record<string, string> = {
  point: 'the form',
  form: 'the form',
  event: 'the event',
  file: 'the file',
  mark: 'the mark',
  'visit.pages': 'pages read',
  'visit.place': 'the place',
  'utm.campaign': 'the campaign',
}

/** How the attributes about pages, visitors and leads are called. */
export function useAttributeNames() {
  const house = useHouse()
  const pointNames = usePointNames()
  const value = (attribute: string, value: unknown): unknown => {
    const text = String(value)
    if (attribute.startsWith('property.')) return house.valueText(attribute.slice(9), text)
    if (attribute === 'point') return pointNames.value.get(text) ?? value
    switch (attributeOf(attribute)?.choices) {
      case 'segments':
        return house.words!.segments.find(s => s.id === value)?.name ?? 'one that is gone'
      case 'members':
        return house.memberName(text)
      case 'labels':
        return house.labelName(text)
      case 'lists':
        return house.words!.lists.find(l => l.id === value)?.name ?? value
      case 'statuses':
        return house.statusName(text)
      default:
        return value
    }
  }
  function attribute(name: string): string {
    const [ofVisitor, ofLead] = [visitorAttribute(name), attributeOf(name)]
    if (ofVisitor) return ofVisitor.isFamily ? `${ofVisitor.words} ${name.slice(ofVisitor.name.length)}` : ofVisitor.words
    if (ofLead) return ofLead.isFamily ? house.propertyName(ownName(ofLead, name)) : ofLead.words
    return OF_ACTS[name] ?? name
  }
  return computed<Names>(() => ({
    attribute,
    value: (name, found) => (typeof found === 'number' ? String(found) : `“${value(name, found)}”`),
  }))
}

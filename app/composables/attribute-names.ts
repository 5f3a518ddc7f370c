import type { Names } from '#core/conditions/words'

const TITLES: Record<string, string> = {
  'page.path': 'the path', 'page.title': 'the title', 'page.address': 'the address', 'visitor.returning': 'was here before', 'visitor.known': 'known to us by name', 'answered': 'answered this already',
  'visit.source': 'came from', 'visit.device': 'the device', 'visit.language': 'the language', 'label': 'the label', 'tag': 'the tag', 'list': 'on the list', 'status': 'the status',
  'segment': 'in the segment', 'owner': 'the owner', 'fit': 'fit', 'interest': 'interest', 'created': 'first came', 'status_since': 'has the status since', 'last_entry': 'the last entry', 'last_visit': 'the last visit', 'waiting': 'waits for us', 'given': 'has sent something',
  'source.first': 'first came from', 'source.latest': 'came lately from', 'point': 'the form', 'form': 'the form', 'event': 'the event', 'file': 'the file', 'mark': 'the mark', 'visit.pages': 'pages read', 'visit.place': 'the place', 'utm.campaign': 'the campaign',
}
/** How the attributes about pages and visitors are called. */
export function useAttributeNames() {
  const house = useHouse()
  const pointNames = usePointNames()
  return computed<Names>(() => ({
    attribute: name => name.startsWith('page.query.') ? `the parameter ${name.slice(11)}` : TITLES[name] ?? house.propertyName(name.replace(/^property\./, '')),
    value: (attribute, value) => typeof value === 'number' ? String(value) : `“${attribute === 'segment' ? house.words!.segments.find(s => s.id === value)?.name ?? 'one that is gone' : attribute === 'owner' ? house.memberName(String(value)) : attribute.startsWith('property.') ? house.valueText(attribute.slice(9), String(value)) : attribute === 'point' ? pointNames.value.get(String(value)) ?? value : attribute === 'label' ? house.labelName(String(value)) : attribute === 'list' ? house.words!.lists.find(l => l.id === value)?.name ?? value : attribute === 'status' ? house.statusName(String(value)) : value}”`,
  }))
}

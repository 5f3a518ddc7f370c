import type { Names } from '#core/conditions-words'

const TITLES: Record<string, string> = {
  'page.path': 'the path', 'page.title': 'the title', 'page.address': 'the address', 'visitor.returning': 'was here before', 'visitor.known': 'known to us by name', 'answered': 'answered this already',
  'visit.source': 'came from', 'visit.device': 'the device', 'visit.language': 'the language', 'label': 'the label', 'tag': 'the tag', 'list': 'on the list', 'status': 'the status',
}
/** How the facts about pages and visitors are called. */
export function useFactNames() {
  const house = useHouse()
  return computed<Names>(() => ({
    fact: name => name.startsWith('page.query.') ? `the parameter ${name.slice(11)}` : TITLES[name] ?? house.propertyName(name.replace(/^property\./, '')),
    value: (fact, value) => `“${fact === 'label' ? house.labelName(String(value)) : fact === 'list' ? house.words!.lists.find(l => l.id === value)?.name ?? value : fact === 'status' ? house.statusName(String(value)) : value}”`,
  }))
}

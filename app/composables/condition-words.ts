import type { Condition } from '#core/conditions'
import { inWords } from '#core/conditions-words'

const FACTS: Record<string, string> = { 'point': 'Form', 'page.path': 'Page', 'page.title': 'Page title', 'tag': 'Tag', 'label': 'Label', 'status': 'Status' }

/** Conditions in the words of the house. */
export function useConditionWords() {
  const house = useHouse()
  const points = shallowRef<{ key: string; name: string }[]>([])
  void api<{ key: string; name: string }[]>('/api/team/points').then((all) => { points.value = all }, () => {})
  return (condition: Condition | null): string => condition === null
    ? 'always'
    : inWords(condition, {
        fact: name => FACTS[name] ?? house.propertyName(name.replace(/^property\./, '')),
        value: (fact, value) => `“${fact === 'point' ? points.value.find(p => p.key === value)?.name ?? value : String(value).replace(/_/g, ' ')}”`,
      })
}

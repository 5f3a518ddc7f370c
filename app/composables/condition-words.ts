import type { Condition } from '#core/conditions/condition'
import { inWords } from '#core/conditions/words'

/** Conditions in the words of the house, as a sentence begins. */
export function useConditionWords() {
  const names = useAttributeNames()
  return (condition: Condition | null): string => {
    const text = condition === null ? 'always' : inWords(condition, names.value)
    return text.slice(0, 1).toUpperCase() + text.slice(1)
  }
}

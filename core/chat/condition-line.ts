import { ABOUT_ENTRY } from '#core/conditions/askable'
import { COMPARISONS, readCondition, type Condition } from '#core/conditions/condition'

const TEST = new RegExp(`^([a-z][\\w.]*) (${COMPARISONS.join('|')})(?: (.+))?$`, 's')

/** A condition on one line: `answer.size equal "large"`, or, of several tests, as it is stored. */
export function conditionInLine(c: Condition): string {
  if ('attribute' in c && /^[a-z][\w.]*$/.test(c.attribute))
    return `${c.attribute} ${c.is}${c.value === undefined ? '' : ` ${JSON.stringify(c.value)}`}`
  return JSON.stringify(c)
}

/** Reads it back. @returns the condition, or what is wrong with it */
export function conditionOfLine(line: string): { condition: Condition } | { flaw: string } {
  const test = TEST.exec(line)
  try {
    const json = (text: string) => JSON.parse(text) as unknown
    const plain = test ? { attribute: test[1], is: test[2], ...(test[3] !== undefined && { value: json(test[3]) }) } : json(line)
    return { condition: readCondition(plain, 'condition', ABOUT_ENTRY) }
  } catch (error) {
    if (error instanceof TypeError) return { flaw: `${error.message}.` }
    return { flaw: 'A condition names an attribute, a comparison and a value in quotes: answer.size equal "large".' }
  }
}

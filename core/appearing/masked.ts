import { isServers } from '#core/appearing/attributes'
import { holds, mapTests, type ActivityTest, type Attributes, type Condition, type Test } from '#core/conditions/condition'

/** What is known of somebody whom we do not know. */
const NOBODY: Attributes = name => (name === 'visitor.known' || name === 'answered' ? 'no' : undefined)
/** What the server says of tests that only it can judge, asked about somebody whom it does not know. */
export const ofNobody = (ours: (Test | ActivityTest)[]): boolean[] => ours.map(test => holds(test, NOBODY))

/**
 * An audience without what only the server can judge, and the tests that were taken out of it, in the order of their numbers: what
 * describes people is not for browsers. There they stand as `server.0`, `server.1`…
 */
export function masked(audience: Condition | null): { audience: Condition | null; ours: (Test | ActivityTest)[] } {
  const ours: (Test | ActivityTest)[] = []
  const mask = (test: Test | ActivityTest): Condition =>
    'did' in test || isServers(test.attribute) ? { attribute: `server.${ours.push(test) - 1}`, is: 'equal', value: 'yes' } : test
  return { audience: audience && mapTests(audience, mask), ours }
}

import { isServers } from '#core/appearing/attributes'
import { mapTests, type ActivityTest, type Condition, type Test } from '#core/conditions/condition'

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

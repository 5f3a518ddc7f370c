import bowser from 'bowser'
import { isbot } from 'isbot'
import type { Visit } from '#db/trail'

const DEVICES: Record<string, Visit['device']> = { desktop: 'computer', mobile: 'phone', tablet: 'tablet' }

/** Browsers of one make say the same of themselves; what that means is looked up once. */
const agents = new Map<string, Pick<Visit, 'device' | 'robot'>>()
export function agentOf(agent: string): Pick<Visit, 'device' | 'robot'> {
  const known = agents.get(agent)
  if (known) return known
  if (agents.size > 2_000) agents.clear()
  const found = {
    device: (agent && DEVICES[bowser.getParser(agent).getPlatformType(true)]) || ('other' as const),
    robot: !agent || isbot(agent),
  }
  agents.set(agent, found)
  return found
}

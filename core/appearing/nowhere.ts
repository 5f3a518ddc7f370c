import type { DisplayRules } from '#core/appearing/schema'

/** The rules of a point that shows nowhere by itself. */
export const NOWHERE: DisplayRules = {
  on: false,
  placement: 'corner',
  side: 'end',
  invitation: '',
  open: 'Tell me more',
  pages: null,
  except: null,
  moments: [],
  together: 'any',
  audience: null,
  period: { from: null, until: null, days: [], hours: null },
  rest: { closed: 14, answered: null, perVisit: 1 },
  small: false,
}

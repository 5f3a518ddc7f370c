export type Role = 'admin' | 'manager' | 'marketer' | 'sales'
export const ROLES: Role[] = ['admin', 'manager', 'marketer', 'sales']

/** What a member may do. Reading is open to all members; these are the acts that change something. */
export type Act =
  | 'edit points'
  | 'work leads'
  | 'make links'
  | 'manage keys'
  | 'judge entries'
  | 'edit properties'
  | 'edit site'
  | 'edit segments'
  | 'manage members'
  | 'manage deliveries'
  | 'edit scorecard'
  | 'edit plan'
  | 'edit statuses'
  | 'edit notes'

const MAY: Record<Act, Role[]> = {
  'edit points': ['admin', 'marketer'],
  'work leads': ['admin', 'manager', 'sales'],
  'make links': ['admin', 'manager', 'marketer', 'sales'],
  'manage keys': ['admin'],
  'judge entries': ['admin', 'manager', 'marketer', 'sales'],
  'edit properties': ['admin', 'marketer'],
  'edit site': ['admin', 'marketer'],
  'edit segments': ['admin', 'manager', 'marketer'],
  'manage members': ['admin'],
  'manage deliveries': ['admin'],
  'edit scorecard': ['admin', 'manager'],
  'edit plan': ['admin', 'manager'],
  'edit statuses': ['admin', 'manager'],
  'edit notes': ['admin', 'manager', 'marketer', 'sales'],
}

/** Whether a role may do something. */
export const may = (role: Role, act: Act): boolean => MAY[act].includes(role)
/** The roles that may do something, in words: `admin or sales`. */
export const whoMay = (act: Act): string => MAY[act].join(' or ')

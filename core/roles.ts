export type Role = 'admin' | 'marketer' | 'sales'
export const ROLES: Role[] = ['admin', 'marketer', 'sales']

/** What a member may do. Reading is open to all members; these are the acts that change something. */
export type Act = 'edit points' | 'work leads' | 'make links' | 'manage keys' | 'judge entries' | 'edit properties' | 'edit site' | 'edit segments' | 'manage members' | 'manage deliveries'

const MAY: Record<Act, Role[]> = {
  'edit points': ['admin', 'marketer'],
  'work leads': ['admin', 'sales'],
  'make links': ['admin', 'marketer', 'sales'],
  'manage keys': ['admin'],
  'judge entries': ['admin', 'marketer', 'sales'],
  'edit properties': ['admin', 'marketer'],
  'edit site': ['admin', 'marketer'],
  'edit segments': ['admin', 'marketer'],
  'manage members': ['admin'],
  'manage deliveries': ['admin'],
}

/** Whether a role may do something. */
export const may = (role: Role, act: Act): boolean => MAY[act].includes(role)
/** The roles that may do something, in words: `admin or sales`. */
export const whoMay = (act: Act): string => MAY[act].join(' or ')

/** The views of following up. */
export const FOLLOW_UP_VIEWS = [
  { path: '/follow-up', name: 'Leads' },
  { path: '/follow-up/board', name: 'Board' },
  { path: '/follow-up/calendar', name: 'Calendar' },
  { path: '/follow-up/texts', name: 'Ready texts' },
  { path: '/follow-up/statuses', name: 'Statuses' },
]

/** The views of following up. */
export const FOLLOW_UP_VIEWS = [
  { path: '/follow-up', name: 'Leads' },
  { path: '/follow-up/board', name: 'Board' },
  { path: '/follow-up/conversations', name: 'Conversations' },
  { path: '/follow-up/calendar', name: 'Calendar' },
  { path: '/follow-up/texts', name: 'Ready texts' },
  { path: '/follow-up/statuses', name: 'Statuses' },
]

/** The five steps of a rating, from the lowest. */
export const RATINGS = ['Poor', 'Not so good', 'Fine', 'Good', 'Very good']

/** The views of looking back. */
export const LEARN_VIEWS = [
  { path: '/learn', name: 'What became of them' },
  { path: '/learn/conversations', name: 'Conversations' },
]

/** The stages of the course, in working order. */
export const STAGES = [
  { key: '1', name: 'Capture', path: '/capture' },
  { key: '2', name: 'Qualify', path: '/qualify' },
  { key: '3', name: 'Route', path: '/route' },
  { key: '4', name: 'Follow up', path: '/follow-up' },
  { key: '5', name: 'Learn', path: '/learn' },
] as const

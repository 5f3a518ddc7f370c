export const ROUTE_VIEWS = [
  { path: '/route', name: 'The plan' },
  { path: '/route/dry-run', name: 'Dry run' },
  { path: '/route/people', name: 'People and hours' },
  { path: '/route/hand-on', name: 'Hand on' },
]

import type { ReviewList } from '#core/review'

/** What was held or refused, and who may be here twice, as it comes and goes. */
export const useReview = () => useLiveQuery(() => api<ReviewList>('/api/team/review'), { review: true }, 1000)

export const CAPTURE_VIEWS = [
  { path: '/capture', name: 'Places' },
  { path: '/capture/live', name: 'Now' },
  { path: '/capture/appearing', name: 'Appearing' },
  { path: '/capture/points', name: 'Forms, quizzes and chats' },
  { path: '/capture/notes', name: 'Notes' },
  { path: '/capture/pages', name: 'Pages' },
  { path: '/settings/site', name: 'The tag' },
  { path: '/capture/properties', name: 'Properties' },
]

/** The views of the stage in which is judged who counts; how many wait is said, for somebody waits. */
export function useQualifyViews() {
  const { data } = useLiveQuery(() => api<{ waiting: number }>('/api/team/review/waiting'), { review: true }, 1000)
  return computed(() => [
    { path: '/qualify', name: 'Scorecard' },
    { path: '/qualify/review', name: 'To review', count: data.value?.waiting ?? 0 },
    { path: '/qualify/dry-run', name: 'Dry run' },
    { path: '/qualify/proof', name: 'Proof' },
    { path: '/qualify/suggested', name: 'Suggested card' },
    { path: '/qualify/segments', name: 'Segments and lists' },
  ])
}

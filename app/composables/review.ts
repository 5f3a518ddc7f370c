import type { ReviewView } from '#core/team'

/** What was held or refused, as it comes and goes. */
export const useReview = () => useLiveQuery(() => api<ReviewView[]>('/api/team/review'), { review: true }, 1000)

/** The views of the capture stage; held entries are counted, for somebody waits. */
export function useCaptureViews(review: Readonly<Ref<ReviewView[] | null>>) {
  return computed(() => [
    { path: '/capture', name: 'Places' }, { path: '/capture/live', name: 'Now' }, { path: '/capture/appearing', name: 'Appearing' }, { path: '/capture/points', name: 'Forms and quizzes' }, { path: '/capture/pages', name: 'Pages' }, { path: '/settings/site', name: 'The tag' }, { path: '/capture/review', name: 'To review', count: review.value?.filter(a => a.state === 'held').length ?? 0 },
    { path: '/capture/properties', name: 'Properties' },
  ])
}

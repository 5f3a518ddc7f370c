import type { AsideView } from '#core/team'

/** What was held or refused, as it comes and goes. */
export const useAsides = () => useFresh(() => api<AsideView[]>('/api/team/asides'), change => Boolean(change.asides), 1000)

/** The views of the capture stage; held entries are counted, for somebody waits. */
export function useCaptureViews(asides: Readonly<Ref<AsideView[] | null>>) {
  return computed(() => [
    { path: '/capture', name: 'Places' }, { path: '/capture/live', name: 'Now' }, { path: '/capture/appearing', name: 'Appearing' }, { path: '/capture/points', name: 'Forms' }, { path: '/capture/pages', name: 'Pages' }, { path: '/capture/aside', name: 'Set aside', count: asides.value?.filter(a => a.state === 'held').length ?? 0 },
    { path: '/capture/properties', name: 'Properties' },
  ])
}

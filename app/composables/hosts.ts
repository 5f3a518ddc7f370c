import { standsAt, type Host } from '#core/points/hosts'

/** A name of ours, with the address to try it at. */
export type HostView = Host & { tryAt: string }

/** The names under which forms and pages are found beside this address. */
export const useHosts = () => useLiveQuery(() => api<HostView[]>('/api/team/hosts'), { site: true, points: true }, 500)

/** Where a form or page stands, without a slash at the end. */
export const standingAt = (host: string | null, hosts: Host[] | null | undefined): string =>
  standsAt(host, hosts ?? [], window.location.origin)

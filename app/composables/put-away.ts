/** Puts a form or a page away, with a way to take it back, or brings it back. */
export function usePutAway(refresh: () => Promise<void>) {
  const say = useToasts()
  return async function putAway(point: { id: string; name: string }, away: boolean): Promise<void> {
    try {
      await api(`/api/team/points/${point.id}/archived`, { method: 'PUT', body: { archived: away } })
      await refresh()
      if (away) say.done(`${point.name} is put away; its address no longer answers.`, () => putAway(point, false))
    } catch (error) {
      say.failed(error)
    }
  }
}

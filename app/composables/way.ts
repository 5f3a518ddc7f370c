/** A list that somebody goes through, lead by lead: where it stands, and who is on it in its order. */
interface Way {
  from: string
  called: string
  leads: string[]
}
const PLACE = 'cavlin.way'

/** Notes the list that leads are opened from; it stays for this tab, over a reload. */
export function keepWay(way: Way): void {
  try {
    sessionStorage.setItem(PLACE, JSON.stringify({ ...way, leads: way.leads.slice(0, 500) }))
  } catch {
    /* without it there is no next and previous */
  }
}

/** The way that a lead stands on; null when it was opened from nowhere. */
export function wayOf(
  lead: string,
): { from: string; called: string; at: number; of: number; previous: string | null; next: string | null } | null {
  try {
    const way = JSON.parse(sessionStorage.getItem(PLACE) ?? 'null') as Way | null
    const at = way?.leads.indexOf(lead) ?? -1
    if (!way || at < 0) return null
    return {
      from: way.from,
      called: way.called,
      at: at + 1,
      of: way.leads.length,
      previous: way.leads[at - 1] ?? null,
      next: way.leads[at + 1] ?? null,
    }
  } catch {
    return null
  }
}

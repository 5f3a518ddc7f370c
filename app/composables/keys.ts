type Handler = (event: KeyboardEvent) => void
const layers: Record<string, Handler>[] = []

/** Keys for as long as the component stands; the newest layer that knows a key gets it. Never while somebody types. */
export function useKeys(keys: Record<string, Handler>): void {
  onMounted(() => layers.push(keys))
  onBeforeUnmount(() => {
    const at = layers.indexOf(keys)
    if (at >= 0) layers.splice(at, 1)
  })
}

/** Longer nobody types ahead of a field. */
const AHEAD_MS = 5000
let ahead: { read: (key: string) => void; until: number } | null = null
/** What is typed goes to a field that is on its way, and moves nothing. @param read null: it is there, and reads itself */
export function typeAhead(read: ((key: string) => void) | null): void {
  ahead = read && { read, until: Date.now() + AHEAD_MS }
}

export function pressKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
  // The whole way, also out of a shadow root: what is typed in a form's preview is typed.
  const within = (selector: string) => event.composedPath().some(at => at instanceof Element && at.matches(selector))
  // A letter is nothing to a box that is ticked.
  if (
    within('input:not([type=radio], [type=checkbox]), textarea, select, [contenteditable], [role=combobox], [role=listbox], [role=dialog]')
  )
    return
  if (ahead && Date.now() < ahead.until && event.key.length === 1) {
    event.preventDefault()
    return ahead.read(event.key)
  }
  // Enter on a button or a link is that button's.
  if (event.key === 'Enter' && within('a, button')) return
  const handler = layers.findLast(layer => event.key in layer)?.[event.key]
  if (!handler) return
  event.preventDefault()
  handler(event)
}

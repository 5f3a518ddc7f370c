import Sortable from 'sortablejs'

/** How a grip and what is dragged look inside a frame. */
export const GRIP_STYLE = `
.stage .held-by{position:absolute;inset-inline-start:-20px;top:0;width:18px;height:24px;display:grid;place-content:center;color:inherit;opacity:0;cursor:grab;font:14px/24px system-ui;user-select:none;touch-action:none}
.stage [data-question]:hover>.held-by,.stage [data-block]:hover>.held-by,.stage .chosen>.held-by{opacity:.5}
.stage .held-by:hover{opacity:1!important}
@media (hover:none){.stage .held-by{opacity:.5}}
.stage [data-question],.stage [data-block]{position:relative}
.stage .drop-here{opacity:.35}.stage .in-hand{opacity:.85!important;background:var(--cv-sheet)}`

/** Gives something in a frame a grip to drag it by; the text in it can still be marked. The keyboard has Alt with the arrows. */
export function addGrip(box: HTMLElement): void {
  const grip = document.createElement('span')
  grip.className = 'held-by'
  grip.title = 'Drag to another place'
  grip.setAttribute('aria-hidden', 'true')
  grip.textContent = '⠿'
  box.prepend(grip)
}

export interface Dragging {
  /** Which things are dragged: a selector, and the name of one. */
  things: string
  nameOf: (box: HTMLElement) => string
  /** The names in their order. */
  order: () => string[]
  /** Called with what was dropped, where it was and where it is to be; what is drawn has to be drawn anew. */
  drop: (name: string, from: number, to: number) => void
}

/**
 * Lets things with a grip be dragged inside a frame, by mouse, pen or finger.
 * @returns what follows a frame that was drawn anew: call it after each drawing
 */
export function dragInside(stage: HTMLElement, { things, nameOf, order, drop }: Dragging): { follow: () => void; end: () => void } {
  const sortables = new Map<HTMLElement, Sortable>()
  const beside = (box: HTMLElement, side: 'nextElementSibling' | 'previousElementSibling') => {
    let found = box[side] as HTMLElement | null
    while (found && !found.matches(things)) found = found[side] as HTMLElement | null
    return found && order().indexOf(nameOf(found))
  }
  const dropped = (box: HTMLElement) => {
    const from = order().indexOf(nameOf(box))
    const [next, last] = [beside(box, 'nextElementSibling'), beside(box, 'previousElementSibling')]
    if (next === null && last === null) return
    // Its own place is empty until it is put down: what comes after it moves up by one.
    const to = next !== null ? next - (from < next ? 1 : 0) : last! + (from > last! ? 1 : 0)
    if (to !== from) drop(nameOf(box), from, to)
  }
  function follow(): void {
    const held = new Set(
      [...stage.querySelectorAll<HTMLElement>(things)].filter(box => box.querySelector(':scope > .held-by')).map(box => box.parentElement!),
    )
    for (const [at, sortable] of sortables)
      if (!held.has(at)) {
        sortable.destroy()
        sortables.delete(at)
      }
    for (const at of held)
      if (!sortables.has(at))
        sortables.set(
          at,
          Sortable.create(at, {
            handle: '.held-by',
            draggable: things,
            group: 'inside',
            animation: 120,
            swapThreshold: 0.65,
            forceFallback: true,
            fallbackTolerance: 4,
            ghostClass: 'drop-here',
            fallbackClass: 'in-hand',
            onEnd: event => dropped(event.item),
          }),
        )
  }
  return { follow, end: () => sortables.forEach(s => s.destroy()) }
}

/** How a grip and the place that something would drop to look inside a frame. */
export const GRIP_STYLE = `
.stage .held-by{position:absolute;inset-inline-start:-20px;top:0;width:18px;height:24px;display:grid;place-content:center;color:inherit;opacity:0;cursor:grab;font:14px/24px system-ui;user-select:none}
.stage [data-question]:hover>.held-by,.stage [data-block]:hover>.held-by,.stage .chosen>.held-by{opacity:.5}
.stage .held-by:hover{opacity:1!important}
.stage [data-question],.stage [data-block]{position:relative}
.stage .over::before{content:'';position:absolute;inset-inline:0;top:-8px;border-top:3px solid var(--cv-accent);pointer-events:none}`

/** Gives something in a frame a grip to drag it by; the text in it can still be marked. The keyboard has Alt with the arrows. */
export function addGrip(box: HTMLElement): void {
  const grip = document.createElement('span')
  grip.className = 'held-by'
  grip.draggable = true
  grip.title = 'Drag to another place'
  grip.setAttribute('aria-hidden', 'true')
  grip.textContent = '⠿'
  box.prepend(grip)
}

/**
 * Lets things with a grip be dragged onto one another inside a frame.
 * @param nameOf the name of the thing that an element belongs to
 * @param drop called with what was dragged and what it was dropped on: it goes before that
 */
export function dragInside(stage: HTMLElement, boxOf: (target: HTMLElement) => HTMLElement | null, nameOf: (box: HTMLElement) => string, drop: (held: string, over: string) => void): void {
  let held: HTMLElement | null = null
  const clear = () => stage.querySelectorAll('.over').forEach(o => o.classList.remove('over'))
  stage.addEventListener('dragstart', (event) => {
    if (!(event.target as HTMLElement).matches?.('.held-by')) return
    held = boxOf(event.target as HTMLElement)
    event.dataTransfer?.setData('text/plain', held ? nameOf(held) : '')
    if (held) event.dataTransfer?.setDragImage(held, 0, 0)
  })
  stage.addEventListener('dragover', (event) => {
    const over = boxOf(event.target as HTMLElement)
    clear()
    if (!held || !over) return
    event.preventDefault()
    if (over !== held) over.classList.add('over')
  })
  stage.addEventListener('drop', (event) => {
    const over = boxOf(event.target as HTMLElement)
    clear()
    if (!held || !over) return
    event.preventDefault()
    if (over !== held) drop(nameOf(held), nameOf(over))
    held = null
  })
  stage.addEventListener('dragend', () => {
    held = null
    clear()
  })
}

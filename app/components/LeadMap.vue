<script setup lang="ts">
import type { Spot } from '#core/team'

/** The pin writ large: each open lead as a dot, interest to the right, fit upwards. */
const props = defineProps<{
  leads: Spot[]
  label: string | null | undefined
  /** What each label asks for. */
  areas: { label: string; fit: number; interest: number }[]
  /** Corners can be dragged; the table beside it does the same by keyboard. */
  editable?: boolean
}>()
const emit = defineEmits<{ move: [label: string, area: { fit: number; interest: number }] }>()
const canvas = ref<HTMLCanvasElement>()
/** The corner in hand, and where it is; what it asks for changes when it is let go. */
const dragging = ref<{ label: string; fit: number; interest: number } | null>(null)
const areas = computed(() => props.areas.map(t => (t.label === dragging.value?.label ? dragging.value : t)))
const near = ref<Spot | null>(null)
const house = useHouse()
const MOST = 110
const LEAST = -10

const place = (s: { fit: number; interest: number }) => {
  const c = canvas.value!
  const share = (n: number) => Math.min(1, Math.max(0, (n - LEAST) / (MOST - LEAST)))
  return { x: 10 + share(s.interest) * (c.clientWidth - 20), y: c.clientHeight - 10 - share(s.fit) * (c.clientHeight - 20) }
}
function draw(): void {
  const c = canvas.value
  if (!c) return
  const dense = window.devicePixelRatio || 1
  c.width = c.clientWidth * dense
  c.height = c.clientHeight * dense
  const g = c.getContext('2d')!
  g.scale(dense, dense)
  const style = getComputedStyle(document.documentElement)
  const color = (name: string) => style.getPropertyValue(name).trim()
  g.strokeStyle = color('--rule')
  for (const third of [100 / 3, 200 / 3]) {
    const at = place({ fit: third, interest: third })
    g.beginPath()
    g.moveTo(at.x, 0)
    g.lineTo(at.x, c.clientHeight)
    g.moveTo(0, at.y)
    g.lineTo(c.clientWidth, at.y)
    g.stroke()
  }
  for (const lead of props.leads) {
    const chosen = props.label === undefined || lead.label === props.label
    const { x, y } = place(lead)
    g.globalAlpha = chosen ? 0.55 : 0.12
    g.fillStyle = color(chosen ? '--spruce' : '--faded')
    g.beginPath()
    g.arc(x, y, chosen ? 4 : 3, 0, 7)
    g.fill()
  }
  g.globalAlpha = 1
  g.fillStyle = color('--faded')
  g.font = '11px "Hanken Grotesk Variable", sans-serif'
  for (const n of [0, 25, 50, 75, 100]) {
    const at = place({ fit: n, interest: n })
    g.fillText(String(n), 3, at.y + 4)
    if (n) g.fillText(String(n), at.x - 6, c.clientHeight - 3)
  }
  // What each label asks for, as a corner: up and to the right of it the label holds.
  g.strokeStyle = color('--slate')
  g.fillStyle = color('--slate')
  g.font = '12px "Hanken Grotesk Variable", sans-serif'
  for (const t of areas.value) {
    const { x, y } = cornerOf(t)
    g.lineWidth = dragging.value?.label === t.label ? 2 : 1
    g.beginPath()
    g.moveTo(x, 0)
    g.lineTo(x, y)
    g.lineTo(c.clientWidth, y)
    g.stroke()
    const text = house.labelName(t.label)
    g.fillText(text, c.clientWidth - g.measureText(text).width - 8, Math.max(12, y - 5))
    if (props.editable) g.fillRect(x - 4, y - 4, 8, 8)
  }
  g.lineWidth = 1
}
const cornerOf = (t: { fit: number; interest: number }) => place({ fit: Math.max(t.fit, LEAST), interest: Math.max(t.interest, LEAST) })
/** The points that a place on the square stands for, whole ones. */
function pointsAt(event: PointerEvent) {
  const c = canvas.value!
  const box = c.getBoundingClientRect()
  const points = (share: number) => Math.round(LEAST + Math.min(1, Math.max(0, share)) * (MOST - LEAST))
  return { interest: points((event.clientX - box.left - 10) / (c.clientWidth - 20)), fit: points((c.clientHeight - 10 - (event.clientY - box.top)) / (c.clientHeight - 20)) }
}
const GRIP = 12
function cornerAt(event: PointerEvent): string | null {
  const box = canvas.value!.getBoundingClientRect()
  const near = props.areas.map(t => ({ label: t.label, ...cornerOf(t) })).map(t => ({ ...t, d: Math.hypot(t.x - (event.clientX - box.left), t.y - (event.clientY - box.top)) }))
  return near.filter(t => t.d <= GRIP).sort((a, b) => a.d - b.d)[0]?.label ?? null
}
function grip(event: PointerEvent): void {
  const label = props.editable ? cornerAt(event) : null
  dragging.value = props.areas.find(t => t.label === label) ?? null
  if (dragging.value) canvas.value!.setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent): void {
  if (!dragging.value) return
  const at = pointsAt(event)
  // At the edge it asks for nothing.
  dragging.value = { label: dragging.value.label, fit: at.fit <= LEAST ? -1000 : at.fit, interest: Math.max(0, at.interest) }
}
function drop(): void {
  const held = dragging.value
  const before = props.areas.find(t => t.label === held?.label)
  if (held && before && (before.fit !== held.fit || before.interest !== held.interest)) emit('move', held.label, { fit: held.fit, interest: held.interest })
  letGo()
}
function letGo(): void {
  // The press that ends a drag opens nobody.
  setTimeout(() => { dragging.value = null })
}
function look(event: MouseEvent): void {
  const box = canvas.value!.getBoundingClientRect()
  const [mx, my] = [event.clientX - box.left, event.clientY - box.top]
  let best = 144
  near.value = null
  for (const lead of props.leads) {
    const { x, y } = place(lead)
    const d = (x - mx) ** 2 + (y - my) ** 2
    if (d < best) [best, near.value] = [d, lead]
  }
}
onMounted(() => {
  const observer = new ResizeObserver(draw)
  observer.observe(canvas.value!)
  onScopeDispose(() => observer.disconnect())
})
watch(() => [props.leads, props.label, areas.value], draw)
const inHand = computed(() => {
  const t = dragging.value
  return t && `${house.labelName(t.label)}: ${t.fit <= -1000 ? 'any fit' : `fit from ${t.fit}`}, interest from ${t.interest}`
})
</script>

<template>
  <figure>
    <canvas ref="canvas" role="img" :aria-label="`${leads.length} open leads by fit and interest. The table of labels beside it has the figures.`" @mousemove="look" @mouseleave="near = null" @pointerdown="grip" @pointermove="drag" @pointerup="drop" @pointercancel="letGo" @click="near && !dragging && navigateTo(`/follow-up/leads/${near.id}`)" />
    <figcaption class="faded small"><span>{{ inHand ?? (near ? `${near.name}: fit ${near.fit}, interest ${near.interest}, ${house.labelName(near.label)}` : `Each dot is an open lead: interest runs right, fit runs up. A click opens it.${editable ? ' Drag a corner to move a label.' : ''}`) }}</span></figcaption>
  </figure>
</template>

<style scoped>
figure { margin: 0; }
canvas { touch-action: pan-y; width: 100%; height: 360px; border: 1px solid var(--rule); background: var(--sheet); cursor: crosshair; display: block; }
figcaption { margin-top: 6px; min-height: 18px; }
</style>

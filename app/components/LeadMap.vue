<script setup lang="ts">
import { cellsOf, LEAST, layoutOf, nextTowards, partOf, within, type Direction, type Part } from '#core/scoring/square'
import type { BriefView } from '#core/review'
import type { SquareView } from '#core/team'

/** The pin writ large: each open lead as a dot, interest to the right, fit upwards. */
const props = defineProps<{
  square: SquareView
  label: string | null | undefined
  /** Who lights up, instead of those with a label. */
  lit?: ReadonlySet<string> | null
  /** What each label asks for. */
  areas: { label: string; fit: number; interest: number }[]
  /** Corners can be dragged; the table beside it does the same by keyboard. */
  editable?: boolean
}>()
const emit = defineEmits<{ move: [label: string, area: { fit: number; interest: number }] }>()
const house = useHouse()
const dots = ref<HTMLCanvasElement>()
const over = ref<HTMLCanvasElement>()
const size = shallowRef({ width: 0, height: 0 })
const layout = computed(() => layoutOf(size.value.width, size.value.height))
const xs = computed(() => Float32Array.from(props.square.interest, layout.value.x))
const ys = computed(() => Float32Array.from(props.square.fit, layout.value.y))
const cells = computed(() => cellsOf(xs.value, ys.value))

/** The corner in hand, and where it is; what it asks for changes when it is let go. */
const dragging = ref<{ label: string; fit: number; interest: number } | null>(null)
const areas = computed(() => props.areas.map(t => (t.label === dragging.value?.label ? dragging.value : t)))
/** Two places between which people are chosen. */
const brush = ref<[{ fit: number; interest: number }, { fit: number; interest: number }] | null>(null)
const part = computed<Part | null>(() => brush.value && partOf(...brush.value))
const chosen = computed(() => (part.value ? within(props.square, part.value) : []))
/** The one under the pointer, or reached by arrow keys; -1 for nobody. */
const at = ref(-1)
watch(
  () => props.square.ids,
  (now, before) => {
    const id = before?.[at.value]
    at.value = id ? now.indexOf(id) : -1
  },
)

// Names come when somebody is pointed at: of all there are too many.
const names = shallowReactive(new Map<string, BriefView>())
watch(
  () => props.square,
  () => names.clear(),
)
let asking: ReturnType<typeof setTimeout> | undefined
function ask(ids: string[]): void {
  clearTimeout(asking)
  const missing = ids.filter(id => !names.has(id)).slice(0, 50)
  if (missing.length)
    asking = setTimeout(async () => {
      try {
        const { leads } = await api<{ leads: BriefView[] }>('/api/team/leads/brief', { query: { ids: missing.join() } })
        for (const lead of leads) names.set(lead.id, lead)
      } catch {
        /* Without a name the figures stand there. */
      }
    }, 80)
}
watch(at, now => {
  if (now >= 0) ask([props.square.ids[now]!])
})
const FEW = 6
/** Those with the most interest; of tens of thousands, with each movement, so none is sorted that is not shown. */
const some = computed(() => {
  const { interest, ids } = props.square
  const top: number[] = []
  for (const i of chosen.value) {
    if (top.length === FEW && interest[i]! <= interest[top.at(-1)!]!) continue
    const place = top.findIndex(o => interest[o]! < interest[i]!)
    top.splice(place < 0 ? top.length : place, 0, i)
    top.length = Math.min(FEW, top.length)
  }
  return top.map(i => ids[i]!)
})
watch(some, ids => ask(ids))

const color = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()
function context(canvas: HTMLCanvasElement): CanvasRenderingContext2D {
  const dense = window.devicePixelRatio || 1
  canvas.width = size.value.width * dense
  canvas.height = size.value.height * dense
  const g = canvas.getContext('2d')!
  g.scale(dense, dense)
  return g
}
/** A dot drawn once, to be set many times. */
function stamp(fill: string, radius: number): HTMLCanvasElement {
  const dense = window.devicePixelRatio || 1
  const canvas = document.createElement('canvas')
  canvas.width = canvas.height = Math.ceil((radius * 2 + 2) * dense)
  const g = canvas.getContext('2d')!
  g.scale(dense, dense)
  g.fillStyle = fill
  g.beginPath()
  g.arc(radius + 1, radius + 1, radius, 0, 7)
  g.fill()
  return canvas
}
/** The leads themselves: drawn anew only when they change. */
function drawDots(): void {
  const { width, height } = size.value
  if (!dots.value || !width) return
  const g = context(dots.value)
  g.strokeStyle = color('--rule')
  for (const third of [100 / 3, 200 / 3]) {
    g.beginPath()
    g.moveTo(layout.value.x(third), 0)
    g.lineTo(layout.value.x(third), height)
    g.moveTo(0, layout.value.y(third))
    g.lineTo(width, layout.value.y(third))
    g.stroke()
  }
  const { before, label, labels } = props.square
  const wanted = props.label === undefined ? null : props.label === null ? -1 : labels.indexOf(props.label)
  const { lit } = props
  const isMeant = (i: number) => (lit ? lit.has(props.square.ids[i]!) : wanted === null || label[i] === wanted)
  if (before) {
    g.strokeStyle = color('--slate')
    g.globalAlpha = 0.45
    g.beginPath()
    for (const [i, was] of before.entries()) {
      if (!was || !isMeant(i)) continue
      g.moveTo(layout.value.x(was[1]), layout.value.y(was[0]))
      g.lineTo(xs.value[i]!, ys.value[i]!)
    }
    g.stroke()
  }
  const many = label.length > 3000
  const [strong, weak] = [stamp(color('--spruce'), 4), stamp(color('--faded'), 3)]
  const dense = window.devicePixelRatio || 1
  // Those that are meant lie above the others.
  for (const meant of [false, true]) {
    const image = meant ? strong : weak
    const half = image.width / dense / 2
    g.globalAlpha = meant ? (many ? 0.35 : 0.55) : 0.12
    g.fillStyle = color(meant ? '--spruce' : '--faded')
    // Small squares are drawn in a tenth of the time, and of so many nobody sees that they are not round.
    if (many) {
      for (let i = 0; i < label.length; i++)
        if (isMeant(i) === meant) g.fillRect(Math.round(xs.value[i]!) - 1, Math.round(ys.value[i]!) - 1, 3, 3)
      continue
    }
    for (let i = 0; i < label.length; i++)
      if (isMeant(i) === meant) g.drawImage(image, xs.value[i]! - half, ys.value[i]! - half, half * 2, half * 2)
  }
  g.globalAlpha = 1
  g.fillStyle = color('--faded')
  g.font = '11px "Hanken Grotesk Variable", sans-serif'
  for (const n of [0, 25, 50, 75, 100]) {
    g.fillText(String(n), 3, layout.value.y(n) + 4)
    if (n) g.fillText(String(n), layout.value.x(n) - 6, height - 3)
  }
}
/** Areas, the part that is chosen, and who is in hand: drawn with each movement. */
function drawOver(): void {
  const { width } = size.value
  if (!over.value || !width) return
  const g = context(over.value)
  g.strokeStyle = g.fillStyle = color('--slate')
  g.font = '12px "Hanken Grotesk Variable", sans-serif'
  for (const t of areas.value) {
    const { x, y } = cornerOf(t)
    g.lineWidth = dragging.value?.label === t.label ? 2 : 1
    g.beginPath()
    g.moveTo(x, 0)
    g.lineTo(x, y)
    g.lineTo(width, y)
    g.stroke()
    const text = house.labelName(t.label)
    g.fillText(text, width - g.measureText(text).width - 8, Math.max(12, y - 5))
    if (props.editable) g.fillRect(x - 4, y - 4, 8, 8)
  }
  g.strokeStyle = g.fillStyle = color('--spruce')
  g.lineWidth = 1.5
  if (brush.value) {
    const [a, b] = brush.value.map(p => [layout.value.x(p.interest), layout.value.y(p.fit)] as const) as [
      readonly [number, number],
      readonly [number, number],
    ]
    const box = [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.abs(a[0] - b[0]), Math.abs(a[1] - b[1])] as const
    g.strokeRect(...box)
    g.globalAlpha = 0.08
    g.fillRect(...box)
    g.globalAlpha = 1
  }
  if (at.value >= 0) {
    const was = props.square.before?.[at.value]
    const [x, y] = [xs.value[at.value]!, ys.value[at.value]!]
    g.beginPath()
    if (was) {
      g.moveTo(layout.value.x(was[1]), layout.value.y(was[0]))
      g.lineTo(x, y)
    }
    g.moveTo(x + 7, y)
    g.arc(x, y, 7, 0, 7)
    g.stroke()
  }
}
const cornerOf = (t: { fit: number; interest: number }) => ({
  x: layout.value.x(Math.max(t.interest, LEAST)),
  y: layout.value.y(Math.max(t.fit, LEAST)),
})

function placeOf(event: MouseEvent) {
  const box = over.value!.getBoundingClientRect()
  return { x: event.clientX - box.left, y: event.clientY - box.top }
}
const pointsAt = ({ x, y }: { x: number; y: number }) => ({ interest: layout.value.interestAt(x), fit: layout.value.fitAt(y) })
const GRIP = 12
/** Where the press began; it becomes a brush once it has moved. */
let pressed: { x: number; y: number } | null = null
const STILL = 5
function press(event: PointerEvent): void {
  if (event.button !== 0) return
  const place = placeOf(event)
  const [corner] = props.editable
    ? props.areas
        .map(t => ({ t, c: cornerOf(t) }))
        .map(({ t, c }) => ({ t, d: Math.hypot(c.x - place.x, c.y - place.y) }))
        .filter(t => t.d <= GRIP)
        .sort((a, b) => a.d - b.d)
    : []
  dragging.value = corner?.t ?? null
  pressed = place
  if (event.pointerType !== 'touch' || corner) over.value!.setPointerCapture(event.pointerId)
}
function move(event: PointerEvent): void {
  const place = placeOf(event)
  if (dragging.value) {
    const now = pointsAt(place)
    // At the edge it asks for nothing.
    dragging.value = { label: dragging.value.label, fit: now.fit <= LEAST ? -1000 : now.fit, interest: Math.max(0, now.interest) }
  } else if (pressed && event.pointerType !== 'touch' && Math.hypot(place.x - pressed.x, place.y - pressed.y) > STILL)
    brush.value = [pointsAt(pressed), pointsAt(place)]
  else if (!pressed) at.value = cells.value.nearest(place.x, place.y, 12)
}
function release(event: PointerEvent): void {
  const held = dragging.value
  const before = props.areas.find(t => t.label === held?.label)
  if (held && before && (before.fit !== held.fit || before.interest !== held.interest))
    emit('move', held.label, { fit: held.fit, interest: held.interest })
  else if (!held && pressed) {
    const place = placeOf(event)
    // A press that stayed where it was opens who is there, or chooses nobody.
    if (Math.hypot(place.x - pressed.x, place.y - pressed.y) <= STILL) {
      const found = cells.value.nearest(place.x, place.y, 12)
      if (found >= 0) open(found)
      else brush.value = null
    }
  }
  letGo()
}
function letGo(): void {
  dragging.value = null
  pressed = null
}
function open(i: number): void {
  void navigateTo(`/follow-up/leads/${props.square.ids[i]!}`)
}

const ARROWS: Record<string, Direction> = { ArrowLeft: 'left', ArrowRight: 'right', ArrowUp: 'up', ArrowDown: 'down' }
function onKey(event: KeyboardEvent): void {
  const direction = ARROWS[event.key]
  if (direction) {
    const next = at.value < 0 ? (props.square.ids.length ? 0 : -1) : nextTowards(xs.value, ys.value, at.value, direction)
    if (next >= 0) at.value = next
    if (event.shiftKey && at.value >= 0) {
      const here = { fit: props.square.fit[at.value]!, interest: props.square.interest[at.value]! }
      brush.value = [brush.value?.[0] ?? here, here]
    }
  } else if (event.key === 'Enter' && at.value >= 0) open(at.value)
  else if (event.key === 'Escape') [brush.value, at.value] = [null, -1]
  else return
  event.preventDefault()
  event.stopPropagation()
}

const host = ref<HTMLElement>()
onMounted(() => {
  const observer = new ResizeObserver(() => {
    size.value = { width: host.value!.clientWidth, height: host.value!.clientHeight }
  })
  observer.observe(host.value!)
  onScopeDispose(() => observer.disconnect())
})
let frame = 0
watch(
  [() => props.square, () => props.label, () => props.lit, size],
  () => {
    drawDots()
    drawOver()
  },
  { flush: 'post' },
)
watch(
  [areas, brush, at],
  () => {
    cancelAnimationFrame(frame)
    frame = requestAnimationFrame(drawOver)
  },
  { deep: true },
)

const words = (i: number): string => {
  const [fit, interest, label] = [props.square.fit[i], props.square.interest[i], props.square.labels[props.square.label[i]!] ?? null]
  const was = props.square.before?.[i]
  return `${names.get(props.square.ids[i]!)?.name ?? '…'}: fit ${fit}, interest ${interest}${was ? ` (a week ago ${was[0]} and ${was[1]})` : ''}, ${house.labelName(label)}`
}
const said = computed(() => {
  const t = dragging.value
  if (t) return `${house.labelName(t.label)}: ${t.fit <= -1000 ? 'any fit' : `fit from ${t.fit}`}, interest from ${t.interest}`
  if (at.value >= 0) return words(at.value)
  return `Each dot is an open lead: interest runs right, fit runs up. A click opens it; drag over some to choose them.${props.editable ? ' Drag a corner to move a label.' : ''}`
})
/** The list of whoever is chosen, by the same bounds. */
const listOf = computed(() => {
  const bounds = (attribute: string, [low, high]: [number | null, number | null]) => [
    ...(low === null ? [] : [{ attribute, is: 'at_least', value: low }]),
    ...(high === null ? [] : [{ attribute, is: 'at_most', value: high }]),
  ]
  const status = house.words!.statuses.filter(s => ['first', 'open'].includes(s.stage)).map(s => s.key)
  return (
    part.value && {
      path: '/follow-up',
      query: { condition: JSON.stringify({ all: [...bounds('fit', part.value.fit), ...bounds('interest', part.value.interest)] }), status },
    }
  )
})
const perLabel = computed(() => {
  const counts = new Map<number, number>()
  for (const i of chosen.value) counts.set(props.square.label[i]!, (counts.get(props.square.label[i]!) ?? 0) + 1)
  return [...counts].sort((a, b) => b[0] - a[0]).map(([label, n]) => `${n} ${house.labelName(props.square.labels[label] ?? null)}`)
})
</script>

<template>
  <figure>
    <div ref="host" class="square">
      <canvas ref="dots" aria-hidden="true" />
      <canvas
        ref="over" role="application" aria-roledescription="square" tabindex="0" aria-describedby="square-said"
        :aria-label="`${square.ids.length} open leads by fit and interest. Arrow keys go from one to the next, with Shift they choose all between, Enter opens one. The table of labels beside it has the figures.`"
        @pointerdown="press"
        @pointermove="move"
        @pointerup="release"
        @pointercancel="letGo"
        @pointerleave="at = pressed ? at : -1"
        @keydown="onKey"
      />
    </div>
    <figcaption class="faded small"><span id="square-said" aria-live="polite">{{ said }}</span></figcaption>
    <div v-if="part" class="chosen" role="region" aria-label="Chosen on the square">
      <p>
        <NuxtLink v-if="chosen.length && listOf" :to="listOf"><b>{{ count(chosen.length, 'lead', 'leads') }}</b></NuxtLink>
        <b v-else>Nobody</b>
        {{ chosen.length === 1 ? 'stands' : chosen.length ? 'stand' : 'stands' }}
        here<template v-if="perLabel.length">: {{ perLabel.join(', ') }}</template>
        <Button label="Choose nobody" size="small" variant="text" severity="secondary" @click="brush = null" />
      </p>
      <p v-if="chosen.length" class="small">
        <template v-for="(id, i) in some" :key="id">
          <template v-if="i">, </template>
          <NuxtLink :to="`/follow-up/leads/${id}`">{{ names.get(id)?.name ?? '…' }}</NuxtLink>
        </template>
        <template v-if="chosen.length > FEW"> and {{ chosen.length - FEW }} more</template>
      </p>
    </div>
    <p v-if="square.isCut" class="faded small">The {{ square.ids.length.toLocaleString('en') }} leads that were changed last are drawn.</p>
  </figure>
</template>

<style scoped>
figure { margin: 0; }
.square { position: relative; height: 360px; border: 1px solid var(--rule); background: var(--sheet); }
canvas { position: absolute; inset: 0; width: 100%; height: 100%; display: block; }
canvas:last-child { touch-action: pan-y; cursor: crosshair; }
figcaption { margin-top: 6px; min-height: 18px; }
.chosen { margin-top: 8px; padding: 6px 12px; border-left: 3px solid var(--spruce); background: var(--sheet); }
</style>

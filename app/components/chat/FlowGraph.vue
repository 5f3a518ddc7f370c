<script setup lang="ts">
import '@vue-flow/core/dist/style.css'
import { graphlib, layout } from '@dagrejs/dagre'
import { Handle, Position, useVueFlow, VueFlow, type Connection, type Edge, type Node } from '@vue-flow/core'
import { stepInWords, STEP_WORDS, wayInWords } from '#core/chat/in-words'
import type { Flow, Step } from '#core/chat/shapes'
import { waysOf } from '#core/chat/ways'

/** A flow as a graph: each step in a small box with its words, each way out led from its own place. */
const props = defineProps<{
  flow: Flow
  labelOf: (question: string) => string
  chosen: string | null
  /** Steps that are lit up. */ way: string[] | null
  disabled: boolean
  /** How many came to each step, and left there. */ counts?: Map<string, { came: string[]; left: string[] }> | null
}>()
const emit = defineEmits<{ choose: [key: string]; connect: [from: string, by: string, to: string | null] }>()

const WIDTH = 190
const heightOf = (step: Step) =>
  58 +
  (props.counts ? 18 : 0) +
  20 * Math.max(0, waysOf(step).length - (waysOf(step).length === 1 && wayInWords(step, waysOf(step)[0]!) === '' ? 1 : 0))
const placed = computed(() => {
  const graph = new graphlib.Graph({ multigraph: true })
    .setGraph({ rankdir: 'TB', nodesep: 26, ranksep: 44, marginx: 8, marginy: 8 })
    .setDefaultEdgeLabel(() => ({}))
  for (const step of props.flow.steps) graph.setNode(step.key, { width: WIDTH, height: heightOf(step) })
  const keys = new Set(props.flow.steps.map(s => s.key))
  for (const step of props.flow.steps)
    for (const way of waysOf(step)) if (way.to && keys.has(way.to)) graph.setEdge(step.key, way.to, {}, way.by)
  layout(graph)
  return graph
})
const nodes = computed((): Node[] =>
  props.flow.steps.map(step => {
    const at = placed.value.node(step.key)
    return {
      id: step.key,
      type: 'step',
      position: { x: at.x - WIDTH / 2, y: at.y - at.height / 2 },
      data: { step },
      draggable: false,
      connectable: !props.disabled,
      focusable: true,
      ariaLabel: `${STEP_WORDS[step.kind].name}: ${stepInWords(step, props.labelOf)}`,
    }
  }),
)
const lit = computed(() => new Set(props.way ?? []))
const pairs = computed(() => new Set((props.way ?? []).slice(1).map((key, i) => `${props.way![i]} ${key}`)))
const edges = computed((): Edge[] => {
  const keys = new Set(props.flow.steps.map(s => s.key))
  return props.flow.steps.flatMap(step =>
    waysOf(step).flatMap((way): Edge[] =>
      way.to && keys.has(way.to)
        ? [
            {
              id: `${step.key} ${way.by}`,
              source: step.key,
              sourceHandle: way.by,
              target: way.to,
              type: 'smoothstep',
              class: pairs.value.has(`${step.key} ${way.to}`) ? 'lit' : undefined,
              focusable: false,
              markerEnd: 'arrowclosed',
            },
          ]
        : [],
    ),
  )
})
const { fitView, onNodesInitialized, setViewport, setCenter, dimensions, viewport } = useVueFlow('flow-graph')
const NEAR = 0.85
/** As it is read: from the first step down, as large as the width allows. */
function fromTheTop(): void {
  const graph = placed.value.graph()
  const zoom = Math.min(NEAR, dimensions.value.width / (graph.width || 1))
  const first = placed.value.node(props.flow.start ?? props.flow.steps[0]?.key ?? '')
  void setViewport({ zoom, x: dimensions.value.width / 2 - (first?.x ?? 0) * zoom, y: 4 })
}
let begun = false
onNodesInitialized(() => {
  if (!begun) fromTheTop()
  begun = true
})
const whole = () => void fitView({ padding: 0.04, maxZoom: 1 })
/** What is spoken of is brought into sight. */
function see(key: string | null | undefined): void {
  const at = key ? placed.value.node(key) : undefined
  if (!at) return
  const { x, y, zoom } = viewport.value
  const inSight =
    at.x * zoom + x > 40 &&
    at.x * zoom + x < dimensions.value.width - 40 &&
    at.y * zoom + y > 30 &&
    at.y * zoom + y < dimensions.value.height - 30
  if (!inSight) void setCenter(at.x, at.y, { zoom: Math.max(zoom, 0.6) })
}
watch(
  () => props.chosen,
  key => void nextTick(() => see(key)),
)
watch(
  () => props.way?.at(-1),
  key => void nextTick(() => see(key)),
)
const connect = ({ source, sourceHandle, target }: Connection) => {
  if (sourceHandle) emit('connect', source, sourceHandle, target)
}
</script>

<template>
  <div class="around">
  <div class="views">
    <Button label="Whole" size="small" variant="text" severity="secondary" @click="whole" />
    <Button label="From the top" size="small" variant="text" severity="secondary" @click="fromTheTop" />
  </div>
  <VueFlow
    id="flow-graph"
    :nodes="nodes"
    :edges="edges"
    class="flow"
    :min-zoom="0.2"
    :max-zoom="1.5"
    :nodes-draggable="false"
    :nodes-connectable="!disabled"
    :zoom-on-scroll="false"
    :pan-on-scroll="true"
    :prevent-scrolling="false"
    :delete-key-code="null"
    :elements-selectable="true"
    @node-click="emit('choose', $event.node.id)"
    @connect="connect"
  >
    <template #node-step="{ data }: { data: { step: Step } }">
      <div
        class="step"
        :class="{ on: data.step.key === chosen, lit: lit.has(data.step.key), first: flow.start === data.step.key }"
        @keydown.enter="emit('choose', data.step.key)"
      >
        <Handle type="target" :position="Position.Top" />
        <p class="kind">
          <span aria-hidden="true">{{ STEP_WORDS[data.step.kind].sign }}</span>
          {{ STEP_WORDS[data.step.kind].name }}<b v-if="flow.start === data.step.key"> first</b>
        </p>
        <p class="words">{{ stepInWords(data.step, labelOf) }}</p>
        <p v-if="counts?.get(data.step.key)" class="counts figures">
          {{ counts.get(data.step.key)!.came.length }}
          came<b v-if="counts.get(data.step.key)!.left.length">, {{ counts.get(data.step.key)!.left.length }} left here</b>
        </p>
        <div v-for="out in waysOf(data.step)" :key="out.by" class="way" :class="{ bare: !wayInWords(data.step, out) }">
          <span>{{ wayInWords(data.step, out) }}<template v-if="!out.to"> ⊣</template></span>
          <Handle :id="out.by" type="source" :position="wayInWords(data.step, out) ? Position.Right : Position.Bottom" />
        </div>
      </div>
    </template>
  </VueFlow>
  </div>
</template>

<style scoped>
.around { position: relative; } .views { position: absolute; z-index: 5; top: 2px; right: 4px; }
.flow { height: 500px; border: 1px solid var(--rule); background: var(--paper); }
.step { width: 190px; box-sizing: border-box; padding: 5px 9px; border: 1px solid var(--faded); background: var(--sheet); font-size: 12.5px; line-height: 17px; color: var(--ink); }
.step.on { border-color: var(--spruce); box-shadow: 0 0 0 2px var(--spruce); }
.step.lit { background: var(--wash); }
.step p { margin: 0; }
.kind { color: var(--faded); font-size: 11.5px; } .kind b { color: var(--spruce); }
.words { display: -webkit-box; -webkit-line-clamp: 2; -webkit-box-orient: vertical; overflow: hidden; overflow-wrap: anywhere; }
.counts { color: var(--faded); } .counts b { color: var(--brick); }
.way { position: relative; margin: 2px -9px 0; padding: 0 9px; border-top: 1px solid var(--rule); line-height: 18px; color: var(--faded); text-align: end; }
.way span { display: block; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.way.bare { position: static; margin: 0; padding: 0; border: 0; height: 0; }
.flow :deep(.vue-flow__handle) { width: 8px; height: 8px; background: var(--sheet); border: 1px solid var(--faded); border-radius: 0; }
.flow :deep(.vue-flow__edge-path) { stroke: var(--faded); }
.flow :deep(.lit .vue-flow__edge-path) { stroke: var(--spruce); stroke-width: 3; }
.flow :deep(.vue-flow__node:focus-visible) { outline: 3px solid var(--spruce); outline-offset: 2px; }
</style>

<script setup lang="ts">
import { connected, withChange, withoutStep, withStep } from '#core/chat/edit'
import { STEP_WORDS } from '#core/chat/in-words'
import { STEP_KINDS, type StepKind } from '#core/chat/limits'
import { ofScript, type ScriptFlaw } from '#core/chat/read-script'
import { inScript } from '#core/chat/write-script'
import type { Flow, Step } from '#core/chat/shapes'
import { walks, type Walk } from '#core/chat/walks'
import { reachedFrom } from '#core/chat/ways'
import type { PointDefinition } from '#core/points/definition'

/** What a chat says and asks: as a script and as a graph, which are the same thing; beside them one talks to it. */
const definition = defineModel<PointDefinition>({ required: true })
const props = defineProps<{
  id: string
  disabled: boolean
  step: string | null
  /** Changes it as one step that can be undone. */ change: (change: (d: PointDefinition) => PointDefinition) => void
}>()
const emit = defineEmits<{ step: [key: string | null] }>()
const flow = computed(() => definition.value.chat!.flow)
const left = ref<'script' | 'talk'>('script')
const set = (next: Flow) => props.change(d => ({ ...d, chat: { ...d.chat!, flow: next } }))
const labelOf = (question: string) => definition.value.questions.find(q => q.key === question)?.label || question

/** The script as it stands in the field: while it cannot be read, the flow stays as it was. */
const script = ref(inScript(flow.value))
const flaws = ref<ScriptFlaw[]>([])
const field = ref<{ $el: HTMLTextAreaElement }>()
watch(
  () => JSON.stringify(flow.value),
  () => {
    const read = ofScript(script.value)
    // What is typed stays as it is typed, as long as it says the same.
    if (read.flow && JSON.stringify(read.flow) === JSON.stringify(flow.value)) return
    script.value = inScript(flow.value)
    flaws.value = []
  },
)
function typed(text: string): void {
  script.value = text
  const read = ofScript(text)
  flaws.value = read.flaws
  if (read.flow) set(read.flow)
}
/** Two spaces at the beginning of each line that is marked, or two less. */
function indent(event: KeyboardEvent): void {
  const area = event.target as HTMLTextAreaElement
  const [from, until] = [area.value.lastIndexOf('\n', area.selectionStart - 1) + 1, area.selectionEnd]
  const part = area.value.slice(from, until)
  const moved = event.shiftKey ? part.replace(/^ {1,2}/gm, '') : part.replace(/^/gm, '  ')
  area.setRangeText(moved, from, until, 'select')
  typed(area.value)
}
function onKey(event: KeyboardEvent): void {
  // Tab moves the line only while Escape was not pressed: who goes by keyboard gets out.
  if (event.key === 'Escape') (event.target as HTMLElement).blur()
  else if (
    event.key === 'Tab' &&
    !event.ctrlKey &&
    event.altKey === false &&
    (event.target as HTMLTextAreaElement).selectionStart !== (event.target as HTMLTextAreaElement).selectionEnd
  ) {
    event.preventDefault()
    indent(event)
  }
}
/** Where a step's line stands, to be found from the graph. */
function showInScript(key: string): void {
  const at = script.value.split('\n').findIndex(line => line.trimStart().startsWith(`${key}:`))
  const area = field.value?.$el
  if (at < 0 || !area) return
  const from = script.value.split('\n').slice(0, at).join('\n').length + (at ? 1 : 0)
  area.setSelectionRange(from, from + (script.value.split('\n')[at]?.length ?? 0))
  area.scrollTop = Math.max(0, at * 21 - 120)
}
watch(
  () => props.step,
  key => key && left.value === 'script' && showInScript(key),
)

function add(kind: StepKind): void {
  const first =
    definition.value.questions.find(q => !flow.value.steps.some(s => s.kind === 'ask' && s.question === q.key)) ??
    definition.value.questions[0]
  const { flow: next, key } = withStep(flow.value, kind, props.step ?? flow.value.steps.at(-1)?.key ?? null, first?.key ?? '')
  set(next)
  emit('step', key)
}
const chosen = computed(() => flow.value.steps.find(s => s.key === props.step) ?? null)
function remove(key: string): void {
  set(withoutStep(flow.value, key))
  emit('step', null)
}

/** What a conversation in the rehearsal has come through; null outside of one. */
const way = ref<string[] | null>(null)
const lit = ref<Walk | null>(null)
watch(left, () => {
  way.value = null
  lit.value = null
})
/** The same made-up visitors each time. */
function dice(): () => number {
  let seed = 7
  return () => (seed = (seed * 48271) % 2147483647) / 2147483647
}
const proof = computed(() => {
  const reached = reachedFrom(flow.value, flow.value.start)
  const found = walks(flow.value, dice())
  const ends = [...new Set(found.all.map(w => w.steps.at(-1)!.key))]
  return {
    reached: reached.size,
    steps: flow.value.steps.length,
    visitors: found.all.length,
    ends: ends.length,
    walks: [
      { name: 'Shortest', walk: found.shortest },
      { name: 'Usual', walk: found.usual },
      { name: 'Longest', walk: found.longest },
    ].flatMap(w => (w.walk ? [{ name: w.name, walk: w.walk }] : [])),
  }
})
const shownWay = computed(() => lit.value?.steps.map(s => s.key) ?? way.value)
const changeStep = (step: Step) => set(withChange(flow.value, step))
</script>

<template>
  <div class="board">
    <div class="bar">
      <div class="tabs" role="group" aria-label="What stands beside the graph">
        <Button
          label="Script"
          size="small"
          :variant="left === 'script' ? 'outlined' : 'text'"
          :aria-pressed="left === 'script'"
          @click="left = 'script'"
        />
        <Button
          label="Rehearsal"
          size="small"
          :variant="left === 'talk' ? 'outlined' : 'text'"
          :aria-pressed="left === 'talk'"
          @click="left = 'talk'"
        />
      </div>
      <div v-if="!disabled" class="adds" role="group" aria-label="Add a step">
        <span class="small faded">Add behind {{ chosen ? `“${chosen.key}”` : 'the last' }}:</span>
        <Button
          v-for="kind in STEP_KINDS"
          :key="kind"
          v-tooltip.bottom="STEP_WORDS[kind].what"
          :label="STEP_WORDS[kind].name"
          size="small"
          variant="text"
          @click="add(kind)"
        />
      </div>
    </div>
    <div class="halves">
      <section v-if="left === 'script'" class="script" aria-label="Script">
        <Textarea
          ref="field"
          :model-value="script"
          :disabled="disabled"
          aria-label="The flow as a script"
          aria-describedby="script-flaws"
          spellcheck="false"
          rows="22"
          fluid
          :invalid="flaws.length > 0"
          @update:model-value="typed(String($event ?? ''))"
          @keydown="onKey"
        />
        <div id="script-flaws" role="status">
          <p v-for="f in flaws.slice(0, 4)" :key="`${f.line} ${f.message}`" class="small flaw">Line {{ f.line }}: {{ f.message }}</p>
          <p v-if="flaws.length" class="small faded">The graph shows the flow as it could be read last.</p>
        </div>
        <p class="small faded legend">A line is a step. Under it, two spaces further in, stand <code>&gt;</code> a choice, <code>=</code> an
          answer, <code>if</code> a condition, <code>otherwise</code>; <code>go to</code> leads elsewhere, <code>rest</code> nowhere.</p>
      </section>
      <ChatRehearsal v-else :definition="definition" @way="way = $event; lit = null" />
      <section class="graph" aria-label="Graph">
        <ChatFlowGraph
          :flow="flow"
          :label-of="labelOf"
          :chosen="step"
          :way="shownWay"
          :disabled="disabled"
          @choose="emit('step', $event)"
          @connect="(from, by, to) => set(connected(flow, from, by, to))"
        />
        <p class="small faded proof">
          {{ proof.reached === proof.steps ? `All ${count(proof.steps, 'step', 'steps')} can be reached` : `${proof.reached} of ${count(proof.steps, 'step', 'steps')} can be reached` }};
          ways come to {{ count(proof.ends, 'end', 'ends') }}.
          {{ count(proof.visitors, 'made-up visitor takes', 'made-up visitors take') }} every step and every way.
          <Button
            v-for="w in proof.walks"
            :key="w.name"
            :label="`${w.name}: ${count(w.walk.steps.length, 'step', 'steps')}`"
            size="small"
            variant="text"
            :aria-pressed="lit === w.walk"
            @click="lit = lit === w.walk ? null : w.walk"
          />
        </p>
      </section>
    </div>
    <ChatStepSettings
      v-if="chosen"
      :step="chosen"
      :flow="flow"
      :definition="definition"
      :disabled="disabled"
      @change="changeStep"
      @remove="remove(chosen.key)"
      @close="emit('step', null)"
      @begin="set({ ...flow, start: chosen.key })"
    />
  </div>
</template>

<style scoped>
.bar { display: flex; flex-wrap: wrap; gap: 6px 20px; align-items: center; justify-content: space-between; margin-bottom: 8px; }
.adds { display: flex; flex-wrap: wrap; gap: 2px; align-items: center; }
.tabs { display: flex; gap: 4px; }
.halves { display: grid; grid-template-columns: minmax(300px, 5fr) minmax(0, 7fr); gap: 18px; align-items: start; }
.script :deep(textarea) { font: 13px/21px ui-monospace, 'DejaVu Sans Mono', monospace; white-space: pre; overflow-x: auto; tab-size: 2; height: 470px; resize: vertical; }
.flaw { margin: 2px 0; color: var(--brick); } .legend, .proof { margin: 4px 0 0; }
@media (max-width: 900px) { .halves { grid-template-columns: minmax(0, 1fr); } }
</style>

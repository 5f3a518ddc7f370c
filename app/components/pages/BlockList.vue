<script setup lang="ts">
import { VueDraggable } from 'vue-draggable-plus'
import { BLOCK_KINDS, BLOCK_NAMES, blankBlock, PAGE_LIMITS, type Block, type BlockKind } from '#core/pages/definition'
import { textsOf, type PageCheck } from '#core/pages/checks'
import { oneLine } from '#core/text'

/** The blocks in their order, one of them open for its settings. Order by drag, by button and by Alt with the arrows. */
const blocks = defineModel<Block[]>({ required: true })
const props = defineProps<{
  chosen: string | null
  disabled: boolean
  checks: PageCheck[]
  points: { key: string; name: string; live: boolean; id: string }[]
}>()
const emit = defineEmits<{ choose: [key: string | null]; move: [key: string, to: number]; remove: [key: string] }>()

function move(key: string, by: number): void {
  const focused = document.activeElement?.getAttribute('aria-label')
  emit('move', key, blocks.value.findIndex(b => b.key === key) + by)
  void nextTick(() => {
    const row = document.getElementById(`row-${key}`)
    const same = focused ? row?.querySelector<HTMLElement>(`[aria-label="${CSS.escape(focused)}"]:not(:disabled)`) : null
    ;(same ?? row?.querySelector<HTMLElement>('.title'))?.focus()
  })
}
function add(kind: BlockKind): void {
  const block = blankBlock(
    kind,
    blocks.value.map(b => b.key),
  )
  const last = blocks.value.findIndex(b => b.kind === 'footer')
  const at = props.chosen
    ? blocks.value.findIndex(b => b.key === props.chosen) + 1
    : last >= 0 && kind !== 'footer'
      ? last
      : blocks.value.length
  blocks.value = [...blocks.value.slice(0, at), block, ...blocks.value.slice(at)]
  emit('choose', block.key)
}
const label = (b: Block) =>
  oneLine((textsOf(b).find(t => t.trim()) ?? '').replace(/[*_#[\]]/g, ''), 46) ||
  (b.kind === 'snippet' ? b.title : b.kind === 'point' ? props.points.find(p => p.key === b.point)?.name : '') ||
  ''
const flawed = (i: number) => props.checks.some(c => c.level === 'stop' && c.field.startsWith(`blocks.${i}.`))
</script>

<template>
  <div>
    <VueDraggable v-model="blocks" tag="ol" class="blocks" handle=".grip" :animation="120" :disabled="disabled">
      <li
        v-for="(b, i) in blocks"
        :id="`row-${b.key}`"
        :key="b.key"
        class="block"
        :class="{ flawed: flawed(i) }"
        @keydown.alt.up.prevent="i && move(b.key, -1)"
        @keydown.alt.down.prevent="i < blocks.length - 1 && move(b.key, 1)"
      >
        <StoryboardQuestionRow
          :label="label(b) || BLOCK_NAMES[b.kind]"
          :second="BLOCK_NAMES[b.kind].toLowerCase()"
          :row="b.key"
          :open="chosen === b.key"
          :first="i === 0"
          :last="i === blocks.length - 1"
          :disabled="disabled"
          @toggle="emit('choose', chosen === b.key ? null : b.key)"
          @move="move(b.key, $event)"
          @remove="emit('remove', b.key)"
        />
        <div v-if="chosen === b.key" :id="`row-${b.key}-body`">
          <PagesBlockSettings
            :model-value="b"
            :disabled="disabled"
            :points="points"
            @update:model-value="blocks = blocks.map((o, n) => n === i ? $event : o)"
          />
        </div>
      </li>
    </VueDraggable>
    <div v-if="!disabled && blocks.length < PAGE_LIMITS.blocks" class="add" role="group" aria-label="Add a block">
      <span class="faded small">Add</span>
      <Button
        v-for="kind in BLOCK_KINDS"
        :key="kind"
        :label="BLOCK_NAMES[kind]"
        variant="outlined"
        size="small"
        :disabled="kind === 'point' && blocks.some(b => b.kind === 'point')"
        @click="add(kind)"
      />
    </div>
  </div>
</template>

<style scoped>
.blocks { list-style: none; margin: 0 0 8px; padding: 0; }
.block { background: var(--sheet); border: 1px solid var(--rule); border-radius: 4px; margin-bottom: 6px; }
.flawed { border-color: var(--brick); }
.add { display: flex; flex-wrap: wrap; gap: 5px; align-items: center; }
</style>

<script setup lang="ts">
import { Plus } from 'lucide-vue-next'
import { VueDraggable } from 'vue-draggable-plus'
import type { Check } from '#core/points/checks'
import { LIMITS, type Question } from '#core/points/definition'
import { KIND_NAMES } from '#core/properties/kinds'

/** The questions in their order, one of them open for its settings. Order by drag, by button and by Alt with the arrows. */
const questions = defineModel<Question[]>({ required: true })
const props = defineProps<{
  chosen: string | null
  disabled: boolean
  /** In the order in which they are asked. */ asked: Question[]
  inQuiz: boolean
  checksOf: (index: number) => Check[]
  keptOf: (q: Question) => Question | null
}>()
const emit = defineEmits<{
  choose: [key: string | null]
  move: [key: string, by: number]
  remove: [key: string]
  add: []
  mend: [check: Check]
  change: [index: number, q: Question]
}>()

function move(key: string, by: number): void {
  const focused = document.activeElement?.getAttribute('aria-label')
  emit('move', key, by)
  // Keeps the keyboard where it was: on the same question, at its new place.
  void nextTick(() => {
    const row = document.getElementById(`row-${key}`)
    const same = focused ? row?.querySelector<HTMLElement>(`[aria-label="${CSS.escape(focused)}"]:not(:disabled)`) : null
    ;(same ?? row?.querySelector<HTMLElement>('.title'))?.focus()
  })
}
const earlier = (q: Question) =>
  props.asked.slice(
    0,
    props.asked.findIndex(o => o.key === q.key),
  )
const second = (q: Question) =>
  [
    KIND_NAMES[q.kind].toLowerCase(),
    q.hidden ? (q.hidden.from === 'fixed' ? 'always the same' : `from ?${q.hidden.parameter}=`) : q.required ? 'required' : '',
    q.shownIf ? 'only sometimes' : '',
    q.quiz?.contact ? 'who it is' : '',
    q.quiz?.then.length ? 'branches' : '',
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <div>
    <VueDraggable v-model="questions" tag="ol" class="questions" handle=".grip" :animation="120" :disabled="disabled">
      <li
        v-for="(q, i) in questions"
        :id="`row-${q.key}`"
        :key="q.key"
        class="question"
        :class="{ flawed: checksOf(i).some(c => c.level === 'stop'), part: q.newPage && i }"
        @keydown.alt.up.prevent="move(q.key, -1)"
        @keydown.alt.down.prevent="move(q.key, 1)"
      >
        <p v-if="q.newPage && i" class="cut small faded">A new part begins here</p>
        <StoryboardQuestionRow
          :label="q.label"
          :second="second(q)"
          :row="q.key"
          :open="chosen === q.key"
          :first="i === 0"
          :last="i === questions.length - 1"
          :disabled="disabled"
          @toggle="emit('choose', chosen === q.key ? null : q.key)"
          @move="move(q.key, $event)"
          @remove="emit('remove', q.key)"
        />
        <div v-if="chosen === q.key" :id="`row-${q.key}-body`">
          <StoryboardQuestionSettings
            :model-value="q"
            :earlier="earlier(q)"
            :later="inQuiz ? asked.slice(asked.findIndex(o => o.key === q.key) + 1) : null"
            :first="i === 0"
            :disabled="disabled"
            :kept="keptOf(q)"
            :checks="checksOf(i)"
            @update:model-value="emit('change', i, $event)"
            @mend="emit('mend', $event)"
          />
        </div>
      </li>
    </VueDraggable>
    <Button
      v-if="!disabled"
      label="Add a question"
      variant="outlined"
      size="small"
      class="add"
      :disabled="questions.length >= LIMITS.questions"
      @click="emit('add')"
    >
      <template #icon><Plus :size="15" aria-hidden="true" /></template>
    </Button>
  </div>
</template>

<style scoped>
.questions { list-style: none; margin: 0 0 8px; padding: 0; }
.question { background: var(--sheet); border: 1px solid var(--rule); border-radius: 4px; margin-bottom: 6px; }
.part { margin-top: 14px; }
.cut { padding: 3px 12px; border-bottom: 1px dashed var(--rule); }
.flawed { border-color: var(--brick); }
.add { position: sticky; bottom: 12px; background: var(--paper) !important; box-shadow: 0 0 0 6px var(--paper); }
</style>

<script setup lang="ts">
import { Plus, Trash2 } from 'lucide-vue-next'
import { LIMITS, type Choice } from '#core/points/definition'

/** The choices of a question: what visitors see, what is stored, and the tag that it sets. */
const choices = defineModel<Choice[]>({ required: true })
const props = defineProps<{ disabled: boolean; id: string; keptValues: string[] }>()
const detailed = ref(choices.value.some(c => c.tag || (c.value !== c.text && c.text)))

function put(i: number, change: Partial<Choice>): void {
  choices.value = choices.value.map((c, n) => (n === i ? { ...c, ...change } : c))
}
/** Until an edition has it, what is stored follows what is shown, unless somebody set it apart. */
function write(i: number, text: string): void {
  const before = choices.value[i]!
  const follows = before.value === before.text && !props.keptValues.includes(before.value)
  put(i, { text, ...(follows && { value: text }) })
}
function tag(i: number, text: string): void {
  const { tag: _, ...rest } = choices.value[i]!
  choices.value = choices.value.map((c, n) => (n === i ? (text.trim() ? { ...rest, tag: text.trim() } : rest) : c))
}
function move(i: number, by: number): void {
  const list = [...choices.value]
  const [choice] = list.splice(i, 1)
  list.splice(i + by, 0, choice!)
  choices.value = list
}
function add(): void {
  choices.value = [...choices.value, { value: '', text: '' }]
  void nextTick(() => document.getElementById(`${props.id}-${choices.value.length - 1}`)?.focus())
}
/** Several lines pasted at once are several choices. */
function paste(event: ClipboardEvent, i: number): void {
  const lines = (event.clipboardData?.getData('text') ?? '')
    .split(/\r?\n/)
    .map(l => l.trim())
    .filter(Boolean)
  if (lines.length < 2) return
  event.preventDefault()
  const rest = choices.value.filter((c, n) => n !== i || c.text)
  choices.value = [...rest, ...lines.map(text => ({ value: text, text }))].slice(0, LIMITS.choices)
}
</script>

<template>
  <div class="choices" role="group" aria-label="Choices">
    <div
      v-for="(choice, i) in choices"
      :key="i"
      class="choice"
      @keydown.alt.up.prevent="i && move(i, -1)"
      @keydown.alt.down.prevent="i < choices.length - 1 && move(i, 1)"
    >
      <InputText
        :id="`${id}-${i}`"
        :model-value="choice.text"
        size="small"
        fluid
        maxlength="600"
        :disabled="disabled"
        :aria-label="`Choice ${i + 1}`"
        @update:model-value="write(i, $event ?? '')"
        @paste="paste($event, i)"
        @keydown.enter.prevent="add"
      />
      <template v-if="detailed">
        <InputText
          :model-value="choice.value"
          size="small"
          fluid
          maxlength="600"
          :disabled="disabled"
          :aria-label="`What is stored for choice ${i + 1}`"
          placeholder="stored as"
          @update:model-value="put(i, { value: $event ?? '' })"
        />
        <InputText
          :model-value="choice.tag ?? ''"
          size="small"
          fluid
          maxlength="60"
          :disabled="disabled"
          :aria-label="`Tag of choice ${i + 1}`"
          placeholder="tag"
          @update:model-value="tag(i, $event ?? '')"
        />
      </template>
      <span v-if="!disabled" class="tools">
        <MoveButtons :called="`choice ${i + 1}`" :first="i === 0" :last="i === choices.length - 1" @move="move(i, $event)" />
        <Button
          variant="text"
          size="small"
          severity="secondary"
          :aria-label="`Take choice ${i + 1} out`"
          @click="choices = choices.filter((_, n) => n !== i)"
        >
          <Trash2 :size="14" aria-hidden="true" />
        </Button>
      </span>
    </div>
    <div class="more">
      <Button v-if="!disabled" variant="text" size="small" label="Add a choice" :disabled="choices.length >= LIMITS.choices" @click="add">
        <template #icon><Plus :size="14" aria-hidden="true" /></template>
      </Button>
      <Button
        variant="text"
        size="small"
        severity="secondary"
        :label="detailed ? 'Only the texts' : 'Stored values and tags'"
        @click="detailed = !detailed"
      />
    </div>
  </div>
</template>

<style scoped>
.choices { display: grid; gap: 4px; }
.choice { display: flex; gap: 4px; align-items: center; }
.choice > .p-inputtext { min-width: 0; flex: 1; }
.tools { display: flex; flex: none; }
.tools :deep(.p-button) { padding: 4px; }
.more { display: flex; flex-wrap: wrap; gap: 4px; }
</style>

<script setup lang="ts">
import { ArrowDown, ArrowUp, Plus } from 'lucide-vue-next'
import type { PointDefinition } from '#core/points/definition'
import { addResult, changeResult, moveResult, removeResult, setQuiz } from '#core/quiz/edit'
import { MOST_RESULTS } from '#core/quiz/limits'
import type { Call, Result } from '#core/quiz/shapes'

/** The results of a quiz, one of them open: what people read, and what it calls for. */
const definition = defineModel<PointDefinition>({ required: true })
const chosen = defineModel<string | null>('chosen', { required: true })
defineProps<{ disabled: boolean }>()
const quiz = computed(() => definition.value.quiz!)
const open = computed(() => quiz.value.results.find(r => r.key === chosen.value) ?? quiz.value.results[0])
const put = (change: Partial<Result>) => {
  if (open.value) definition.value = changeResult(definition.value, open.value.key, change)
}
const CALLS: { key: Call['kind']; name: string }[] = [
  { key: 'none', name: 'Nothing more' },
  { key: 'address', name: 'Go on to an address' },
  { key: 'file', name: 'Download a file' },
]
/** Where the open result leads, by what it is. */
const address = computed(() => (open.value?.call.kind === 'address' ? open.value.call.address : null))
const file = computed(() => (open.value?.call.kind === 'file' ? { chosen: open.value.call.file } : null))
const called = computed(() => (quiz.value.kind === 'outcomes' ? 'outcome' : 'result'))
function add(): void {
  definition.value = addResult(definition.value, '')
  chosen.value = quiz.value.results.at(-1)!.key
  void nextTick(() => document.getElementById('result-title')?.focus())
}
function call(kind: Call['kind']): void {
  put({
    call: kind === 'address' ? { kind, address: '' } : kind === 'file' ? { kind, file: null } : { kind },
    ...(!open.value!.button && kind !== 'none' && { button: kind === 'file' ? 'Download it' : 'Read on' }),
  })
}
function remove(): void {
  const at = quiz.value.results.indexOf(open.value!)
  definition.value = removeResult(definition.value, open.value!.key)
  chosen.value = quiz.value.results[Math.max(0, at - 1)]?.key ?? null
}
const from = (typed: string) => put({ from: Math.min(100, Math.max(0, Math.round(Number(typed)) || 0)) })
</script>

<template>
  <fieldset class="results" :disabled="disabled">
    <legend class="unseen">What people come to</legend>
    <ol>
      <li v-for="(r, i) in quiz.results" :key="r.key" :class="{ on: r.key === open?.key }">
        <button type="button" class="name" :aria-pressed="r.key === open?.key" @click="chosen = r.key">
          {{ r.title || 'no title' }}<span v-if="quiz.kind === 'marks'" class="faded small"> from {{ r.from }}%</span>
        </button>
        <span v-if="!disabled && quiz.kind === 'outcomes'">
          <Button
            variant="text"
            size="small"
            severity="secondary"
            :disabled="!i"
            :aria-label="`Move ${r.title} up`"
            @click="definition = moveResult(definition, r.key, -1)"
            ><ArrowUp :size="14" aria-hidden="true"
          /></Button>
          <Button
            variant="text"
            size="small"
            severity="secondary"
            :disabled="i === quiz.results.length - 1"
            :aria-label="`Move ${r.title} down`"
            @click="definition = moveResult(definition, r.key, 1)"
            ><ArrowDown :size="14" aria-hidden="true"
          /></Button>
        </span>
      </li>
    </ol>
    <p v-if="quiz.kind === 'outcomes'" class="faded small">Where two have as much, the one that stands higher here is it.</p>
    <div>
      <Button
        v-if="!disabled"
        variant="outlined"
        size="small"
        :label="`Add ${called === 'outcome' ? 'an outcome' : 'a result'}`"
        :disabled="quiz.results.length >= MOST_RESULTS"
        @click="add"
        >
<template #icon><Plus :size="15" aria-hidden="true" /></template
      >
</Button>
    </div>
    <template v-if="open">
      <h2>{{ open.title || `This ${called}` }}</h2>
      <label for="result-title">Title</label>
      <InputText id="result-title" :model-value="open.title" fluid maxlength="200" @update:model-value="put({ title: $event ?? '' })" />
      <template v-if="quiz.kind === 'marks'">
        <label for="result-from">For those who reach at least so many percent</label>
        <InputText
          id="result-from"
          class="short"
          :model-value="String(open.from)"
          inputmode="numeric"
          maxlength="3"
          @change="from(($event.target as HTMLInputElement).value)"
        />
      </template>
      <label for="result-text">Text</label>
      <Textarea
        id="result-text"
        :model-value="open.text"
        rows="4"
        auto-resize
        fluid
        maxlength="4000"
        @update:model-value="put({ text: $event ?? '' })"
      />
      <span class="label">Picture</span>
      <FilePick
        :chosen="open.picture?.file ?? null"
        picture
        :disabled="disabled"
        called="Picture of the result"
        @choose="
          put({
            picture: {
              file: { id: $event.id, name: $event.name },
              width: $event.width!,
              height: $event.height!,
              alt: open.picture?.alt ?? '',
            },
          })
        "
        @clear="put({ picture: null })"
      />
      <template v-if="open.picture"
        >
<label for="result-alt">What it shows</label
        ><InputText
          id="result-alt"
          :model-value="open.picture.alt"
          fluid
          maxlength="200"
          @update:model-value="put({ picture: { ...open.picture!, alt: $event ?? '' } })"
      />
</template>
      <label id="result-call">What it calls for</label>
      <Select
        :model-value="open.call.kind"
        :options="CALLS"
        option-label="name"
        option-value="key"
        fluid
        :disabled="disabled"
        aria-labelledby="result-call"
        @update:model-value="call"
      />
      <template v-if="open.call.kind !== 'none'">
        <label for="result-button">Text on its button</label>
        <InputText id="result-button" :model-value="open.button" fluid maxlength="60" @update:model-value="put({ button: $event ?? '' })" />
        <template v-if="address !== null"
          >
<label for="result-address">Address</label
          ><InputText
            id="result-address"
            :model-value="address"
            fluid
            maxlength="2000"
            placeholder="https://firm.example"
            @update:model-value="put({ call: { kind: 'address', address: $event ?? '' } })"
        />
</template>
        <FilePick
          v-else-if="file"
          :chosen="file.chosen"
          :disabled="disabled"
          called="File of the result"
          @choose="put({ call: { kind: 'file', file: { id: $event.id, name: $event.name } } })"
          @clear="put({ call: { kind: 'file', file: null } })"
        />
      </template>
      <div>
        <Button v-if="!disabled" :label="`Take this ${called} out`" size="small" variant="text" severity="danger" @click="remove" />
      </div>
    </template>
    <h2>Beside the result</h2>
    <label class="tick"
      ><Checkbox
        :model-value="quiz.again"
        binary
        input-id="quiz-again"
        :disabled="disabled"
        @update:model-value="definition = setQuiz(definition, { again: $event })"
      />
      People may start again</label
    >
    <label v-if="quiz.kind === 'marks'" class="tick"
      ><Checkbox
        :model-value="quiz.says === 'end'"
        binary
        input-id="quiz-says"
        :disabled="disabled"
        @update:model-value="definition = setQuiz(definition, { says: $event ? 'end' : 'never' })"
      />
      They read what would have been right</label
    >
  </fieldset>
</template>

<style scoped>
.results {
  margin: 0;
  padding: 0;
  border: 0;
  display: grid;
  gap: 4px;
  min-width: 0;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  align-items: center;
  justify-content: space-between;
  border-bottom: 1px solid var(--rule);
}
li.on {
  background: var(--wash);
}
.name {
  flex: 1;
  padding: 7px 10px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
  overflow-wrap: anywhere;
}
label,
.label {
  font-size: 13px;
  line-height: 18px;
  color: var(--faded);
  margin-top: 6px;
}
h2 {
  margin-top: 14px;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  color: var(--ink);
  font-size: 15px;
  line-height: 22px;
}
.short {
  width: 90px;
}
</style>

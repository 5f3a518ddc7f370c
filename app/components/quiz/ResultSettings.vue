<script setup lang="ts">
import { Plus } from 'lucide-vue-next'
import type { PointDefinition } from '#core/points/definition'
import { addResult, changeResult, moveResult, removeResult, setQuiz } from '#core/quiz/edit'
import { MOST_RESULTS } from '#core/quiz/limits'
import { placesFor } from '#core/points/mails'
import type { Result } from '#core/quiz/shapes'

const TemplateField = defineAsyncComponent(() => import('~/components/template/TemplateField.vue'))
/** The results of a quiz, one of them open: what people read, and what it calls for. */
const definition = defineModel<PointDefinition>({ required: true })
const chosen = defineModel<string | null>('chosen', { required: true })
defineProps<{ disabled: boolean }>()
const quiz = computed(() => definition.value.quiz!)
const open = computed(() => quiz.value.results.find(r => r.key === chosen.value) ?? quiz.value.results[0])
const put = (change: Partial<Result>) => {
  if (open.value) definition.value = changeResult(definition.value, open.value.key, change)
}
const places = computed(() => placesFor(definition.value, 'result'))
const called = computed(() => (quiz.value.kind === 'outcomes' ? 'outcome' : 'result'))
const SAYS = computed(() => [
  { key: 'each' as const, name: 'After each answer' },
  ...(quiz.value.kind === 'marks' ? [{ key: 'end' as const, name: 'With the result' }] : []),
  { key: quiz.value.kind === 'marks' ? ('never' as const) : ('end' as const), name: 'Never' },
])
function add(): void {
  definition.value = addResult(definition.value, '')
  chosen.value = quiz.value.results.at(-1)!.key
  void nextTick(() => document.getElementById('result-title')?.focus())
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
          <MoveButtons
            :called="r.title"
            :first="i === 0"
            :last="i === quiz.results.length - 1"
            @move="definition = moveResult(definition, r.key, $event)"
          />
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
        <template #icon><Plus :size="15" aria-hidden="true" /></template>
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
      <span class="label">Text</span>
      <TemplateField
        id="result-text"
        :key="open.key"
        :model-value="open.text"
        called="Text of the result"
        kind="text"
        :places="places"
        :most="4000"
        :disabled="disabled"
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
      <template v-if="open.picture">
        <label for="result-alt">What it shows</label>
        <InputText
          id="result-alt"
          :model-value="open.picture.alt"
          fluid
          maxlength="200"
          @update:model-value="put({ picture: { ...open.picture!, alt: $event ?? '' } })"
        />
      </template>
      <QuizResultCall :key="open.key" :result="open" :disabled="disabled" @change="put" />
      <div>
        <Button v-if="!disabled" :label="`Take this ${called} out`" size="small" variant="text" severity="danger" @click="remove" />
      </div>
    </template>
    <template v-if="quiz.contact === 'after'">
      <h2>Below the result</h2>
      <label for="quiz-thanks">Said to those who then say who they are</label>
      <Textarea
        id="quiz-thanks"
        :model-value="definition.thanks"
        rows="2"
        auto-resize
        fluid
        maxlength="4000"
        @update:model-value="definition = { ...definition, thanks: $event ?? '' }"
      />
    </template>
    <h2>Beside the result</h2>
    <label class="tick"><Checkbox
        :model-value="quiz.again"
        binary
        input-id="quiz-again"
        :disabled="disabled"
        @update:model-value="definition = setQuiz(definition, { again: $event })"
      />
      People may start again</label>
    <label class="tick"><Checkbox
        :model-value="quiz.share"
        binary
        input-id="quiz-share"
        :disabled="disabled"
        @update:model-value="definition = setQuiz(definition, { share: $event })"
      />
      They may show their result to others</label>
    <p v-if="quiz.share" class="faded small">On a page with the result and nothing of who came to it, and with a picture for links.</p>
    <label id="quiz-says">
      {{ quiz.kind === 'marks' ? 'They read what would have been right' : 'They read what is said of their answers' }}
    </label>
    <Select
      :model-value="quiz.says"
      :options="SAYS"
      option-label="name"
      option-value="key"
      fluid
      :disabled="disabled"
      aria-labelledby="quiz-says"
      @update:model-value="definition = setQuiz(definition, { says: $event })"
    />
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

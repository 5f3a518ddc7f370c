<script setup lang="ts">
import { choicesOf, freshKey, type PointDefinition, type Question } from '#core/points/definition'
import { setQuiz, takeSuggested } from '#core/quiz/edit'
import { judgedBy } from '#core/quiz/judge'
import { MOST_WISHES } from '#core/quiz/limits'
import type { Described } from '#core/quiz/shapes'
import type { Suggestion } from '#core/quiz/suggest'

/** Some described people and the outcome that each should get; weights that bring it about are looked for, or what contradicts each other is told. */
const definition = defineModel<PointDefinition>({ required: true })
defineProps<{ disabled: boolean }>()
const say = useToasts()
const quiz = computed(() => definition.value.quiz!)
const people = computed(() => quiz.value.described)
const open = ref<string | null>(null)
const asked = computed(() =>
  definition.value.questions.filter(q => !q.quiz?.contact && !q.hidden && (choicesOf(q).length || q.kind === 'number')),
)
const outcomes = computed(() => quiz.value.results.map(r => ({ key: r.key, name: r.title || r.key })))
const put = (list: Described[]) => {
  definition.value = setQuiz(definition.value, { described: list })
}
const change = (key: string, more: Partial<Described>) => put(people.value.map(p => (p.key === key ? { ...p, ...more } : p)))
function add(): void {
  const key = freshKey(
    'person',
    people.value.map(p => p.key),
  )
  put([
    ...people.value,
    {
      key,
      name: `Somebody ${people.value.length + 1}`,
      answers: Object.fromEntries(asked.value.flatMap(q => (q.kind === 'one_of' && q.choices[0] ? [[q.key, q.choices[0].value]] : []))),
      outcome: quiz.value.results[0]!.key,
    },
  ])
  open.value = key
}
function answer(p: Described, q: Question, value: string | string[] | null): void {
  const { [q.key]: _, ...others } = p.answers
  change(p.key, { answers: value === null || value === '' ? others : { ...others, [q.key]: value } })
}
const comesTo = (p: Described) => judgedBy(definition.value, p.answers)?.result ?? ''
const titleOf = (key: string) => outcomes.value.find(o => o.key === key)?.name ?? 'an outcome that was taken out'
const nameOf = (i: number) => people.value[i]?.name ?? ''

const found = shallowRef<Suggestion | null>(null)
const working = ref(false)
let worker: Worker | null = null
function stop(): void {
  worker?.terminate()
  worker = null
  working.value = false
}
function suggest(): void {
  stop()
  found.value = null
  working.value = true
  worker = new Worker(new URL('../../workers/suggest.ts', import.meta.url), { type: 'module' })
  worker.onmessage = ({ data }: MessageEvent<Suggestion>) => {
    found.value = data
    stop()
  }
  worker.onerror = () => {
    stop()
    say.failed(new Error('The weights could not be worked out. Try again; nothing was changed.'))
  }
  worker.postMessage(JSON.parse(JSON.stringify({ quiz: quiz.value, questions: definition.value.questions })))
}
onBeforeUnmount(stop)
// What was suggested for other people or other weights says nothing any more.
watch(
  () => JSON.stringify([quiz.value.described, definition.value.questions]),
  () => {
    found.value = null
  },
)
function take(): void {
  if (found.value?.kind !== 'weights') return
  const { cells, changed } = found.value
  const before = definition.value
  definition.value = takeSuggested(definition.value, cells)
  const after = definition.value
  say.done(
    `${count(changed.length, 'weight is', 'weights are')} changed.`,
    async () => {
      definition.value = before
    },
    () => definition.value === after,
  )
}
const labelOf = (key: string) => definition.value.questions.find(q => q.key === key)?.label ?? key
const choiceOf = (question: string, choice: string) => {
  const q = definition.value.questions.find(o => o.key === question)
  return q?.choices.find(c => c.value === choice)?.text ?? choice
}
const contradiction = computed(() =>
  found.value?.kind === 'contradict' ? new Intl.ListFormat('en-GB').format(found.value.wishes.map(nameOf)) : '',
)
</script>

<template>
  <section aria-labelledby="described">
    <h2 id="described">Suggested weights</h2>
    <p class="faded small">
      Describe some people by their answers, and say which outcome each should get. Small whole weights are looked for that do it, with as
      much between the outcomes as can be.
    </p>
    <ul>
      <li v-for="p in people" :key="p.key">
        <div class="row">
          <button type="button" class="name" :aria-expanded="open === p.key" @click="open = open === p.key ? null : p.key">{{ p.name
            }}<span class="small" :class="comesTo(p) === p.outcome ? 'faded' : 'brick'">
              {{
                comesTo(p) === p.outcome
                  ? `comes to ${titleOf(p.outcome)}`
                  : `should come to ${titleOf(p.outcome)}, comes to ${titleOf(comesTo(p))}`
              }}
            </span></button>
          <Button
            v-if="!disabled"
            label="Take out"
            size="small"
            variant="text"
            severity="secondary"
            :aria-label="`Take ${p.name} out`"
            @click="put(people.filter(o => o.key !== p.key))"
          />
        </div>
        <div v-if="open === p.key" class="fields">
          <label :for="`${p.key}-name`">Who it is</label>
          <InputText
            :id="`${p.key}-name`"
            size="small"
            fluid
            maxlength="80"
            :model-value="p.name"
            :disabled="disabled"
            @change="change(p.key, { name: ($event.target as HTMLInputElement).value.trim() || p.name })"
          />
          <label :id="`${p.key}-outcome`">Should come to</label>
          <Select
            size="small"
            fluid
            :model-value="p.outcome"
            :options="outcomes"
            option-label="name"
            option-value="key"
            placeholder="an outcome that was taken out"
            :disabled="disabled"
            :aria-labelledby="`${p.key}-outcome`"
            @update:model-value="change(p.key, { outcome: $event })"
          />
          <template v-for="q in asked" :key="q.key">
            <label :id="`${p.key}-${q.key}`" :for="`${p.key}-${q.key}-n`">{{ q.label || q.key }}</label>
            <MultiSelect
              v-if="q.kind === 'some_of'"
              size="small"
              fluid
              :model-value="[p.answers[q.key] ?? []].flat()"
              :options="q.choices"
              option-label="text"
              option-value="value"
              placeholder="nothing"
              :show-toggle-all="false"
              :disabled="disabled"
              :aria-labelledby="`${p.key}-${q.key}`"
              @update:model-value="answer(p, q, $event.length ? $event : null)"
            />
            <Select
              v-else-if="choicesOf(q).length"
              size="small"
              fluid
              show-clear
              :model-value="p.answers[q.key] ?? null"
              :options="choicesOf(q)"
              option-label="text"
              option-value="value"
              placeholder="not answered"
              :disabled="disabled"
              :aria-labelledby="`${p.key}-${q.key}`"
              @update:model-value="answer(p, q, $event)"
            />
            <InputText
              v-else
              :id="`${p.key}-${q.key}-n`"
              size="small"
              inputmode="decimal"
              maxlength="20"
              :model-value="String(p.answers[q.key] ?? '')"
              :disabled="disabled"
              @change="answer(p, q, ($event.target as HTMLInputElement).value.trim())"
            />
          </template>
        </div>
      </li>
    </ul>
    <div v-if="!disabled" class="acts">
      <Button
        label="Describe somebody"
        size="small"
        variant="outlined"
        :disabled="people.length >= MOST_WISHES || !quiz.results.length"
        @click="add"
      />
      <Button
        label="Suggest weights"
        size="small"
        :loading="working"
        :disabled="!people.length || quiz.results.length < 2"
        @click="suggest"
      />
      <Button v-if="working" label="Stop" size="small" variant="text" @click="stop" />
    </div>
    <div v-if="found" class="found" role="status">
      <p v-if="found.kind === 'contradict'" class="brick">
        {{
          found.wishes.length === 1
            ? `No weights can bring ${contradiction} there: nothing that they answer can speak for an outcome.`
            : `No weights can do it: ${contradiction} contradict each other. Change what one of them answers, or where they should come.`
        }}
      </p>
      <p v-else-if="found.kind === 'too small'" class="brick">
        It can be done, but not with weights up to {{ found.most }}. Describe fewer people at once.
      </p>
      <p v-else-if="!found.changed.length">The weights do it already; each is ahead by {{ found.margin }} at least.</p>
      <template v-else>
        <p>With {{ count(found.changed.length, 'weight', 'weights') }} changed, each is ahead by {{ found.margin }} at least.</p>
        <ul class="changes">
          <li v-for="c in found.changed" :key="`${c.question} ${c.choice} ${c.outcome}`" class="small">
            {{ labelOf(c.question) }} <b>{{ choiceOf(c.question, c.choice) }}</b>, for {{ titleOf(c.outcome) }}: {{ c.before }} becomes
            {{ c.now }}
          </li>
        </ul>
        <Button label="Take these weights" size="small" @click="take" />
      </template>
    </div>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 6px;
  margin-top: 18px;
  padding-top: 10px;
  border-top: 1px solid var(--rule);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
section > ul > li {
  border-bottom: 1px solid var(--rule);
}
.row {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
}
.name {
  flex: 1;
  padding: 6px 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.name .small {
  display: block;
}
.fields {
  display: grid;
  gap: 3px;
  padding: 0 0 10px 10px;
  border-left: 2px solid var(--rule);
  margin-bottom: 8px;
}
label {
  font-size: 13px;
  line-height: 18px;
  color: var(--faded);
  margin-top: 4px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.found {
  display: grid;
  gap: 6px;
  justify-items: start;
  padding: 8px 12px;
  background: var(--sheet);
  border: 1px solid var(--rule);
}
.changes li {
  padding: 2px 0;
}
</style>

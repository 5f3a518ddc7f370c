<script setup lang="ts">
import { toPool } from '#core/chat/pools'
import { STEP_WORDS, stepInWords } from '#core/chat/in-words'
import { FLOW_LIMITS } from '#core/chat/limits'
import type { Flow, Step, StepOf } from '#core/chat/shapes'
import type { Condition } from '#core/conditions/condition'
import { may } from '#core/roles'
import { choicesOf, type PointDefinition } from '#core/points/definition'

/** One step of a flow: what it says or does, and where it leads. */
const props = defineProps<{ step: Step; flow: Flow; definition: PointDefinition; disabled: boolean }>()
const emit = defineEmits<{ change: [step: Step]; remove: []; close: []; begin: [] }>()
const house = useHouse()
const { attributes, activityAttributes } = useEntryAttributes(computed(() => props.definition))
const label = (question: string) => props.definition.questions.find(q => q.key === question)?.label || question
const set = (change: Partial<Step>) => emit('change', { ...props.step, ...change } as Step)
const NOWHERE = { key: '', name: 'Nowhere: it rests' }
const targets = computed(() => [
  ...props.flow.steps
    .filter(s => s.key !== props.step.key)
    .map(s => ({ key: s.key, name: `${s.key} · ${STEP_WORDS[s.kind].name}: ${stepInWords(s, label).slice(0, 50)}` })),
  NOWHERE,
])
const at = (to: string | null) => to ?? ''
const to = (key: string) => key || null
const say = computed(() => (props.step.kind === 'say' ? props.step : null))
const ask = computed(() => (props.step.kind === 'ask' ? props.step : null))
const branch = computed(() => (props.step.kind === 'branch' ? props.step : null))
const doing = computed(() => (props.step.kind === 'do' ? props.step : null))
const meet = computed(() => (props.step.kind === 'meet' ? props.step : null))
const asked = computed(() => (ask.value ? props.definition.questions.find(q => q.key === ask.value!.question) : undefined))
const offered = computed(() => (asked.value ? choicesOf(asked.value).slice(0, FLOW_LIMITS.ways) : []))
const wayOf = (value: string) => ask.value!.ways.find(w => w.value === value)
function lead(value: string, key: string): void {
  const rest = ask.value!.ways.filter(w => w.value !== value)
  set({ ways: key === 'then' ? rest : [...rest, { value, to: to(key) }] } as Partial<StepOf<'ask'>>)
}
const setChoice = (i: number, change: object) =>
  set({ choices: say.value!.choices.map((c, n) => (n === i ? { ...c, ...change } : c)) } as Partial<StepOf<'say'>>)
const setWay = (i: number, change: object) =>
  set({ ways: branch.value!.ways.map((w, n) => (n === i ? { ...w, ...change } : w)) } as Partial<StepOf<'branch'>>)
const people = computed(() => [
  { id: 'plan', name: 'Whose turn it is' },
  ...pools.value.map(l => ({ id: toPool(l.key), name: `Whoever of ${l.name} takes it first` })),
  ...house.words!.members.filter(m => may(m.role, 'work leads')),
])
const { pools } = useReceivers()
const OTHERWISE: Partial<Record<Step['kind'], string>> = {
  look_up: 'When no note answers it',
  meet: 'When no time suits',
  hand_over: 'When nobody is there',
}
</script>

<template>
  <section class="step" :aria-label="`Step ${step.key}`">
    <header>
      <h3>{{ STEP_WORDS[step.kind].name }} <span class="faded">{{ step.key }}</span></h3>
      <p class="faded small">{{ STEP_WORDS[step.kind].what }}.</p>
      <span class="acts">
        <Button v-if="!disabled && flow.start !== step.key" label="Begin here" size="small" variant="text" @click="emit('begin')" />
        <Button v-if="!disabled" label="Take it out" size="small" variant="text" severity="danger" @click="emit('remove')" />
        <Button label="Close" size="small" variant="text" severity="secondary" @click="emit('close')" />
      </span>
    </header>
    <div class="fields">
      <template v-if="ask">
        <label id="step-question">Question</label>
        <Select
          :model-value="ask.question"
          :options="definition.questions"
          :option-label="q => q.label || q.key"
          option-value="key"
          aria-labelledby="step-question"
          :disabled="disabled"
          fluid
          @update:model-value="set({ question: $event, ways: [] })"
        />
      </template>
      <template v-if="'text' in step">
        <label for="step-text">{{ ask ? 'In other words than the question’s' : 'What is said' }}</label>
        <Textarea
          id="step-text"
          :model-value="step.text"
          rows="3"
          auto-resize
          :maxlength="FLOW_LIMITS.text"
          :disabled="disabled"
          fluid
          @update:model-value="set({ text: String($event ?? '') })"
        />
      </template>
      <label v-if="ask" class="tick">
        <Checkbox
          :model-value="ask.readBack"
          binary
          input-id="step-back"
          :disabled="disabled"
          @update:model-value="set({ readBack: Boolean($event) })"
        />
        Read the answer back: “Did I get that right?”</label>
      <template v-if="ask && offered.length">
        <template v-for="c in offered" :key="c.value">
          <label :id="`step-way-${c.value}`">{{ c.text }} leads to</label>
          <Select
            :model-value="wayOf(c.value) ? at(wayOf(c.value)!.to) : 'then'"
            :options="[{ key: 'then', name: 'Where all others lead' }, ...targets]"
            option-label="name"
            option-value="key"
            :aria-labelledby="`step-way-${c.value}`"
            :disabled="disabled"
            fluid
            @update:model-value="lead(c.value, $event)"
          />
        </template>
      </template>
      <template v-if="say">
        <div v-for="(c, i) in say.choices" :key="i" class="pair">
          <InputText
            :model-value="c.text"
            :aria-label="`Choice ${i + 1}`"
            :maxlength="FLOW_LIMITS.choice"
            :disabled="disabled"
            @update:model-value="setChoice(i, { text: $event })"
          />
          <Select
            :model-value="at(c.to)"
            :options="targets"
            option-label="name"
            option-value="key"
            :aria-label="`Where choice ${i + 1} leads`"
            :disabled="disabled"
            @update:model-value="setChoice(i, { to: to($event) })"
          />
          <Button
            v-if="!disabled"
            label="Remove"
            :aria-label="`Remove choice ${i + 1}`"
            size="small"
            variant="text"
            severity="secondary"
            @click="set({ choices: say.choices.toSpliced(i, 1) })"
          />
        </div>
        <Button
          v-if="!disabled && say.choices.length < FLOW_LIMITS.choices"
          label="Add a choice"
          size="small"
          variant="outlined"
          @click="set({ choices: [...say.choices, { text: `Choice ${say.choices.length + 1}`, to: say.then }] })"
        />
      </template>
      <template v-if="doing">
        <label id="step-actions">Actions</label>
        <MultiSelect
          :model-value="doing.actions"
          :options="definition.actions"
          :option-label="a => `${a.key} (${a.kind.replace('_', ' ')})`"
          option-value="key"
          placeholder="None of its own"
          aria-labelledby="step-actions"
          :disabled="disabled"
          fluid
          @update:model-value="set({ actions: $event })"
        />
        <label class="tick">
          <Checkbox
            :model-value="doing.entry"
            binary
            input-id="step-entry"
            :disabled="disabled"
            @update:model-value="set({ entry: Boolean($event) })"
          />
          Take the answers in, as those of a form</label>
        <p class="faded small">Actions are made in the frame “What we do”. Those that no step has are done whenever the answers are taken
          in.</p>
      </template>
      <template v-if="branch">
        <div v-for="(w, i) in branch.ways" :key="i" class="when">
          <ConditionTree
            :model-value="w.when"
            :attributes="attributes"
            :activity-attributes="activityAttributes"
            :called="`Condition ${i + 1}`"
            :disabled="disabled"
            @update:model-value="setWay(i, { when: $event as Condition })"
          />
          <Select
            :model-value="at(w.to)"
            :options="targets"
            option-label="name"
            option-value="key"
            :aria-label="`Where condition ${i + 1} leads`"
            :disabled="disabled"
            @update:model-value="setWay(i, { to: to($event) })"
          />
          <Button
            v-if="!disabled && branch.ways.length > 1"
            label="Remove"
            :aria-label="`Remove condition ${i + 1}`"
            size="small"
            variant="text"
            severity="secondary"
            @click="set({ ways: branch.ways.toSpliced(i, 1) })"
          />
        </div>
        <Button
          v-if="!disabled"
          label="Add a condition"
          size="small"
          variant="outlined"
          @click="set({ ways: [...branch.ways, { when: { all: [] }, to: null }] })"
        />
      </template>
      <div v-if="meet" class="pair">
        <label>Minutes
          <InputNumber
            :model-value="meet.minutes"
            :min="10"
            :max="240"
            input-id="step-minutes"
            aria-label="Minutes"
            :disabled="disabled"
            @update:model-value="set({ minutes: $event ?? 30 })"
          />
        </label>
        <label>Within days
          <InputNumber
            :model-value="meet.days"
            :min="1"
            :max="60"
            input-id="step-days"
            aria-label="Within days"
            :disabled="disabled"
            @update:model-value="set({ days: $event ?? 14 })"
          />
        </label>
      </div>
      <template v-if="step.kind === 'hand_over'">
        <label id="step-to">To</label>
        <Select
          :model-value="step.to"
          :options="people"
          option-label="name"
          option-value="id"
          aria-labelledby="step-to"
          :disabled="disabled"
          fluid
          @update:model-value="set({ to: $event })"
        />
      </template>
      <label v-if="step.kind === 'end'" class="tick">
        <Checkbox
          :model-value="step.rating"
          binary
          input-id="step-rating"
          :disabled="disabled"
          @update:model-value="set({ rating: Boolean($event) })"
        />
        Ask how it was</label>
      <template v-if="'otherwise' in step">
        <label id="step-otherwise">{{ OTHERWISE[step.kind] }}</label>
        <Select
          :model-value="at(step.otherwise)"
          :options="targets"
          option-label="name"
          option-value="key"
          aria-labelledby="step-otherwise"
          :disabled="disabled"
          fluid
          @update:model-value="set({ otherwise: to($event) })"
        />
      </template>
      <template v-if="'then' in step">
        <label id="step-then">{{ (say?.choices.length || ask?.ways.length || branch) ? 'Everything else leads to' : 'Then' }}</label>
        <Select
          :model-value="at(step.then)"
          :options="targets"
          option-label="name"
          option-value="key"
          aria-labelledby="step-then"
          :disabled="disabled"
          fluid
          @update:model-value="set({ then: to($event) })"
        />
      </template>
    </div>
  </section>
</template>

<style scoped>
.step { margin-top: 14px; padding: 12px 16px; border: 1px solid var(--rule); background: var(--sheet); }
header { display: flex; flex-wrap: wrap; gap: 4px 14px; align-items: baseline; } header p { margin: 0; flex: 1; }
.fields { display: grid; grid-template-columns: minmax(120px, 190px) minmax(0, 640px); gap: 8px 14px; align-items: center; margin-top: 8px; }
.fields > label:not(.tick) { font-size: 13px; color: var(--faded); }
.tick, .pair, .when, .fields > p, .fields > button { grid-column: 2; } .fields > button { justify-self: start; }
.tick { display: flex; gap: 8px; align-items: center; }
.pair { display: flex; flex-wrap: wrap; gap: 8px; } .pair > :first-child { flex: 1; min-width: 140px; } .pair :deep(.p-select) { flex: 2; min-width: 0; }
.when { display: grid; gap: 6px; }
@media (max-width: 700px) { .fields { grid-template-columns: minmax(0, 1fr); } .tick, .pair, .when, .fields > p, .fields > button { grid-column: 1; } }
</style>

<script setup lang="ts">
import type { Check } from '#core/points/checks'
import { choicesOf, QUESTION_KINDS, type OnDifference, type Question, type QuestionKind } from '#core/points/definition'
import { FAMILY_NAMES, FILE_FAMILIES, MOST_FILES, MOST_MEGABYTES } from '#core/files/kinds'
import { asKind } from '#core/points/questions'
import { BUILT_IN, fills, KIND_NAMES } from '#core/properties/kinds'
import type { Attribute } from '~/components/ConditionTree.vue'

/** Everything that can be decided about one question. */
const question = defineModel<Question>({ required: true })
const props = defineProps<{
  earlier: Question[]
  /** In a quiz: those behind it. */ later: Question[] | null
  first: boolean
  disabled: boolean
  kept: Question | null
  checks: Check[]
}>()
const emit = defineEmits<{ mend: [check: Check] }>()
const house = useHouse()

const id = computed(() => `q-${question.value.key}`)
const kinds = QUESTION_KINDS.map(key => ({ key, name: KIND_NAMES[key] }))
const properties = computed(() => [
  { key: null as string | null, label: 'No property; it stands alone' },
  ...house
    .words!.properties.filter(p => (!p.retired && fills(question.value.kind, p.kind)) || p.key === question.value.property)
    .map(p => ({ key: p.key as string | null, label: p.label })),
])
const property = computed(() => house.words!.properties.find(p => p.key === question.value.property))
const DIFFERENCES: { key: OnDifference; name: string }[] = [
  { key: 'replace', name: 'Replace what is known' },
  { key: 'fill', name: 'Only fill a gap' },
  { key: 'add', name: 'Add to it' },
  { key: 'keep', name: 'Leave it as it is' },
]
const differences = computed(() =>
  DIFFERENCES.filter(d => d.key !== 'add' || ['short_text', 'long_text', 'some_of'].includes(property.value?.kind ?? '')),
)
const text = computed(() => ['short_text', 'long_text'].includes(question.value.kind))
const counted = computed(() => ['number', 'money', 'some_of'].includes(question.value.kind) || text.value)
const measure = computed(() =>
  text.value
    ? 'characters'
    : question.value.kind === 'some_of'
      ? 'choices'
      : question.value.kind === 'money'
        ? house.words!.house.currency
        : '',
)
const presets = computed(() => [{ value: '', text: 'Nothing' }, ...choicesOf(question.value)])
const attributes = computed<Attribute[]>(() =>
  props.earlier.map(q => ({ name: `answer.${q.key}`, label: q.label || q.key, kind: q.kind, choices: choicesOf(q) })),
)
/** Where a branch may ask for the answer to this very question, too. */
const withOwn = computed<Attribute[]>(() => [
  ...attributes.value,
  {
    name: `answer.${question.value.key}`,
    label: question.value.label || question.value.key,
    kind: question.value.kind,
    choices: choicesOf(question.value),
  },
])
const families = FILE_FAMILIES.map(key => ({ key, name: FAMILY_NAMES[key] }))
const whole = (typed: string | undefined, usual: number, most: number) => Math.min(most, Math.max(1, Math.round(Number(typed)) || usual))
const HIDING = [
  { key: 'no', name: 'Visitors are asked' },
  { key: 'fixed', name: 'It is always the same' },
  { key: 'page', name: 'The page’s address says it' },
]

const set = (change: Partial<Question>) => {
  question.value = { ...question.value, ...change }
}
const setKind = (kind: QuestionKind) => {
  question.value = asKind(question.value, kind, property.value?.kind ?? null)
}
function setProperty(key: string | null): void {
  const p = house.words!.properties.find(o => o.key === key)
  set({
    property: key,
    ...(!question.value.label.trim() && p && { label: p.label }),
    // What is offered comes with the property, as long as nothing else was written.
    ...(p?.choices.length &&
      (!question.value.choices.length || question.value.choices.every(c => ['Yes', 'No'].includes(c.value))) && {
        choices: p.choices.map(c => ({ ...c })),
      }),
  })
}
const limit = (which: 'least' | 'most', typed: string | undefined) => {
  const value = typed?.trim() ? (question.value.kind === 'date' ? typed : Number(typed)) : null
  set({ limits: { ...question.value.limits, [which]: typeof value === 'number' && Number.isNaN(value) ? null : value } })
}
function hide(how: string): void {
  set({
    hidden:
      how === 'no'
        ? null
        : {
            from: how as 'fixed' | 'page',
            value: question.value.hidden?.value ?? '',
            parameter: how === 'page' ? question.value.hidden?.parameter || 'utm_campaign' : '',
          },
    ...(how !== 'no' && { newPage: false }),
  })
}
const ask = (only: boolean) => set({ shownIf: only ? { all: [{ attribute: attributes.value[0]!.name, is: 'filled' }] } : null })
const builtIn = computed(() => (BUILT_IN as readonly string[]).includes(question.value.property ?? ''))
</script>

<template>
  <fieldset class="settings" :disabled="disabled">
    <legend class="unseen">Settings of “{{ question.label }}”</legend>
    <ul v-if="checks.length" class="checks">
      <li v-for="check in checks" :key="check.message" :class="check.level">
        <span><b>{{ check.level === 'stop' ? 'Stops' : 'Hint' }}</b> {{ check.message }}</span>
        <Button v-if="check.mend && !disabled" :label="check.mend.name" size="small" variant="text" @click="emit('mend', check)" />
      </li>
    </ul>
    <label :for="`${id}-label`">{{ question.kind === 'consent' ? 'The words people agree to' : 'Question' }}</label>
    <Textarea
      :id="`${id}-label`"
      :model-value="question.label"
      rows="1"
      auto-resize
      fluid
      maxlength="600"
      @update:model-value="set({ label: ($event ?? '').replace(/\n/g, ' ') })"
    />
    <div class="two">
      <div>
        <label :for="`${id}-kind`">Kind</label>
        <Select
          :input-id="`${id}-kind`"
          :model-value="question.kind"
          :options="kinds"
          option-label="name"
          option-value="key"
          fluid
          :disabled="disabled"
          aria-label="Kind"
          @update:model-value="setKind"
        />
      </div>
      <div v-if="question.kind !== 'consent'">
        <label :for="`${id}-property`">Fills</label>
        <Select
          :input-id="`${id}-property`"
          :model-value="question.property"
          :options="properties"
          option-label="label"
          option-value="key"
          fluid
          filter
          :disabled="disabled"
          placeholder="No property; it stands alone"
          aria-label="Fills"
          @update:model-value="setProperty"
        />
      </div>
      <div v-else>
        <label :for="`${id}-allows`">Allows these mails</label>
        <MultiSelect
          :input-id="`${id}-allows`"
          :model-value="question.allows"
          :options="house.words!.topics"
          option-label="name"
          option-value="key"
          fluid
          placeholder="None"
          :show-toggle-all="false"
          :disabled="disabled"
          aria-label="Allows these mails"
          @update:model-value="set({ allows: $event })"
        />
      </div>
    </div>
    <template v-if="question.kind === 'one_of' || question.kind === 'some_of'">
      <span class="label">Choices</span>
      <StoryboardChoiceList
        :id="`${id}-choice`"
        :model-value="question.choices"
        :disabled="disabled"
        :kept-values="kept?.choices.map(c => c.value) ?? []"
        @update:model-value="set({ choices: $event })"
      />
    </template>
    <template v-if="question.kind === 'file'">
      <label :for="`${id}-accepts`">What can be sent</label>
      <MultiSelect
        :input-id="`${id}-accepts`"
        :model-value="question.files.accepts"
        :options="families"
        option-label="name"
        option-value="key"
        fluid
        placeholder="All kinds"
        :show-toggle-all="false"
        :disabled="disabled"
        aria-label="What can be sent"
        @update:model-value="set({ files: { ...question.files, accepts: $event } })"
      />
      <div class="two">
        <div>
          <label :for="`${id}-many`">At most so many</label>
          <InputText
            :id="`${id}-many`"
            :model-value="String(question.limits.most ?? 1)"
            inputmode="numeric"
            maxlength="2"
            fluid
            @change="set({ limits: { ...question.limits, most: whole(($event.target as HTMLInputElement).value, 1, MOST_FILES) } })"
          />
        </div>
        <div>
          <label :for="`${id}-megabytes`">At most MB each</label>
          <InputText
            :id="`${id}-megabytes`"
            :model-value="String(question.files.megabytes)"
            inputmode="numeric"
            maxlength="2"
            fluid
            @change="set({ files: { ...question.files, megabytes: whole(($event.target as HTMLInputElement).value, 5, MOST_MEGABYTES) } })"
          />
        </div>
      </div>
      <p class="faded small">What a file is, is looked up inside it; its name alone counts for nothing. Only members can download it.</p>
    </template>
    <label class="tick">
      <Checkbox
        :model-value="question.required"
        binary
        :input-id="`${id}-required`"
        :disabled="disabled || Boolean(question.hidden)"
        @update:model-value="set({ required: $event })"
      />
      Must be answered</label>
    <QuizQuestionInQuiz
      v-if="later"
      :model-value="question"
      :later="later"
      :attributes="withOwn"
      :disabled="disabled"
      @update:model-value="question = $event"
    />
    <details :open="Boolean(question.shownIf || question.hidden)">
      <summary>When it is asked</summary>
      <div class="inside">
        <label v-if="question.kind !== 'consent' && question.kind !== 'file'" :for="`${id}-hidden`">Who answers</label>
        <Select
          v-if="question.kind !== 'consent' && question.kind !== 'file'"
          :input-id="`${id}-hidden`"
          :model-value="question.hidden?.from ?? 'no'"
          :options="HIDING"
          option-label="name"
          option-value="key"
          fluid
          :disabled="disabled"
          aria-label="Who answers"
          @update:model-value="hide"
        />
        <div v-if="question.hidden" class="two">
          <div v-if="question.hidden.from === 'page'">
            <label :for="`${id}-parameter`">Parameter of the address</label>
            <InputText
              :id="`${id}-parameter`"
              :model-value="question.hidden.parameter"
              fluid
              maxlength="60"
              @update:model-value="set({ hidden: { ...question.hidden!, parameter: $event ?? '' } })"
            />
          </div>
          <div>
            <label :for="`${id}-fixed`">{{ question.hidden.from === 'page' ? 'If it is not there' : 'The answer' }}</label>
            <InputText
              :id="`${id}-fixed`"
              :model-value="question.hidden.value"
              fluid
              maxlength="600"
              @update:model-value="set({ hidden: { ...question.hidden!, value: $event ?? '' } })"
            />
          </div>
        </div>
        <template v-else>
          <label v-if="attributes.length" class="tick">
            <Checkbox
              :model-value="Boolean(question.shownIf)"
              binary
              :input-id="`${id}-shown`"
              :disabled="disabled"
              @update:model-value="ask"
            />
            Only if an earlier answer says so</label>
          <ConditionTree
            v-if="question.shownIf"
            :model-value="question.shownIf"
            :attributes="attributes"
            :disabled="disabled"
            called="When it is asked"
            @update:model-value="set({ shownIf: $event })"
          />
          <label v-if="!first" class="tick">
            <Checkbox
              :model-value="question.newPage"
              binary
              :input-id="`${id}-page`"
              :disabled="disabled"
              @update:model-value="set({ newPage: $event })"
            />
            Begins a new part</label>
        </template>
      </div>
    </details>
    <details>
      <summary>Words around it, limits, and what is known already</summary>
      <div class="inside">
        <label :for="`${id}-help`">Help under it; a link is written <code>[words](https://…)</code></label>
        <InputText
          :id="`${id}-help`"
          :model-value="question.help"
          fluid
          maxlength="600"
          @update:model-value="set({ help: $event ?? '' })"
        />
        <div class="two">
          <div v-if="!choicesOf(question).length && !['consent', 'date', 'file'].includes(question.kind)">
            <label :for="`${id}-placeholder`">Example inside it</label>
            <InputText
              :id="`${id}-placeholder`"
              :model-value="question.placeholder"
              fluid
              maxlength="120"
              @update:model-value="set({ placeholder: $event ?? '' })"
            />
          </div>
          <div v-if="!['consent', 'some_of', 'file'].includes(question.kind)">
            <label :for="`${id}-preset`">There from the start</label>
            <Select
              v-if="presets.length > 1"
              :input-id="`${id}-preset`"
              :model-value="question.preset"
              :options="presets"
              option-label="text"
              option-value="value"
              fluid
              :disabled="disabled"
              aria-label="There from the start"
              @update:model-value="set({ preset: $event })"
            />
            <InputText
              v-else
              :id="`${id}-preset`"
              :model-value="question.preset"
              fluid
              maxlength="600"
              @update:model-value="set({ preset: $event ?? '' })"
            />
          </div>
        </div>
        <label :for="`${id}-error`">Own words for an answer that is missing or does not fit</label>
        <InputText
          :id="`${id}-error`"
          :model-value="question.error"
          fluid
          maxlength="600"
          @update:model-value="set({ error: $event ?? '' })"
        />
        <div v-if="counted || question.kind === 'date'" class="two">
          <div>
            <label :for="`${id}-least`">At least {{ measure }}</label>
            <InputText
              :id="`${id}-least`"
              :model-value="String(question.limits.least ?? '')"
              :type="question.kind === 'date' ? 'date' : 'text'"
              inputmode="numeric"
              fluid
              @update:model-value="limit('least', $event)"
            />
          </div>
          <div>
            <label :for="`${id}-most`">At most {{ measure }}</label>
            <InputText
              :id="`${id}-most`"
              :model-value="String(question.limits.most ?? '')"
              :type="question.kind === 'date' ? 'date' : 'text'"
              inputmode="numeric"
              fluid
              @update:model-value="limit('most', $event)"
            />
          </div>
        </div>
        <template v-if="question.property && question.property !== 'email'">
          <label :for="`${id}-difference`">When {{ property?.label ?? 'it' }} is known and differs</label>
          <Select
            :input-id="`${id}-difference`"
            :model-value="question.onDifference"
            :options="differences"
            option-label="name"
            option-value="key"
            fluid
            :disabled="disabled"
            aria-label="When it is known and differs"
            @update:model-value="set({ onDifference: $event })"
          />
        </template>
        <p class="faded small">In entries it is called
          <code>
            {{ question.key }}
          </code>{{ kept ? ', and stays so' : '' }}.<template v-if="builtIn"> Its property is one that every lead has.</template>
        </p>
      </div>
    </details>
  </fieldset>
</template>

<style scoped>
.settings { margin: 0; padding: 2px 12px 12px; border: 0; display: grid; gap: 4px; min-width: 0; }
.settings label, .label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 6px; }
.two { display: grid; grid-template-columns: repeat(auto-fit, minmax(150px, 1fr)); gap: 4px 10px; }
.two > div { min-width: 0; display: grid; grid-template-columns: minmax(0, 1fr); gap: 4px; align-content: start; }
.settings .tick { display: flex; gap: 8px; align-items: center; color: var(--ink); font-size: 15px; margin-top: 8px; }
details { border-top: 1px solid var(--rule); margin-top: 8px; }
summary { cursor: pointer; padding: 8px 0 4px; font-weight: 560; font-size: 14px; }
.inside { display: grid; gap: 4px; }
.checks { list-style: none; margin: 0 0 4px; padding: 0; font-size: 13px; line-height: 18px; }
.checks li { display: flex; gap: 8px; align-items: center; justify-content: space-between; padding: 4px 0 4px 10px; border-left: 3px solid var(--honey-mark); margin-bottom: 4px; }
.checks .stop { border-left-color: var(--brick); }
.checks .stop b { color: var(--brick); }
.checks .hint b { color: var(--honey); }
.checks .p-button { flex: none; }
</style>

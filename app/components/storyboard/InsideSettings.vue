<script setup lang="ts">
import { sayIn } from '#core/languages/say'
import { Trash2 } from 'lucide-vue-next'
import { actionOf, actionsOf, addedAction, changedAction, withoutAction, withTheAction } from '#core/actions/edit'
import type { ActionOf } from '#core/actions/shapes'
import type { PointDefinition } from '#core/points/definition'
import { placesFor } from '#core/points/mails'
import { strangerText } from '#core/points/refusals'

/** What we do with an entry: label, tags, owner, next step, whom we tell, and whom it may change. */
const definition = defineModel<PointDefinition>({ required: true })
defineProps<{ disabled: boolean }>()
/** Heavy, and only here: it comes with the frame. */
const TemplateField = defineAsyncComponent(() => import('~/components/template/TemplateField.vue'))
const house = useHouse()
const { attributes, activityAttributes } = useEntryAttributes(definition)

const set = (change: Partial<PointDefinition>) => {
  definition.value = { ...definition.value, ...change }
}
const label = computed({
  get: () => actionOf(definition.value, 'label')?.label ?? null,
  set: key => {
    definition.value = withTheAction(definition.value, 'label', key ? { ...given.value, label: key } : null)
  },
})
const given = computed(() => {
  const { how, days } = actionOf(definition.value, 'label') ?? {}
  return { ...(how && { how }), ...(days && { days }) }
})
const setGiven = (held: object) => {
  definition.value = withTheAction(definition.value, 'label', label.value ? { ...held, label: label.value } : null)
}
const lists = computed({
  get: () => actionOf(definition.value, 'list')?.lists ?? [],
  set: ids => {
    definition.value = withTheAction(definition.value, 'list', ids.length ? { lists: ids } : null)
  },
})
const owner = computed({
  get: () => actionOf(definition.value, 'owner')?.owner ?? null,
  set: id => {
    definition.value = withTheAction(definition.value, 'owner', id ? { owner: id } : null)
  },
})
const next = computed(() => actionOf(definition.value, 'next_step'))
const setNext = (text: string | undefined, after: number) => {
  definition.value = withTheAction(definition.value, 'next_step', text ? { text, days: after } : null)
}
const tells = computed(() => actionsOf(definition.value, 'tell'))
const setTell = (key: string, change: Partial<Omit<ActionOf<'tell'>, 'key' | 'kind'>>) => {
  definition.value = changedAction<ActionOf<'tell'>>(key, change)(definition.value)
}
const takeOut = (key: string) => {
  definition.value = withoutAction(key)(definition.value)
}
const owners = computed(() => [
  { id: null as string | null, name: 'As the routing plan says' },
  ...house.words!.members.map(m => ({ id: m.id as string | null, name: m.name })),
])
const addTell = () => {
  definition.value = addedAction(definition.value, 'tell', {
    members: [],
    when: null,
    subject: '{{lead.name}} through {{point.name}}',
    text: '',
  })
}
const days = (typed: string | undefined) => (/^\d{1,3}$/.test(typed?.trim() ?? '') ? Math.min(365, Number(typed)) : 0)
const labels = computed(() => [
  { key: null as string | null, name: 'What the score says' },
  ...house.words!.labels.map(l => ({ key: l.key as string | null, name: l.name })),
])
const tags = computed({
  get: () => (actionOf(definition.value, 'tag')?.tags ?? []).join(', '),
  set: (text: string) => {
    const typed = [
      ...new Set(
        text
          .split(',')
          .map(t => t.trim().slice(0, 60))
          .filter(Boolean),
      ),
    ].slice(0, 20)
    definition.value = withTheAction(definition.value, 'tag', typed.length ? { tags: typed } : null)
  },
})
/** The properties that the questions fill and that can tell people apart. */
const telling = computed(() => {
  const asked = definition.value.questions.flatMap(q =>
    q.property && !['consent', 'file', 'some_of', 'long_text', 'yes_no'].includes(q.kind) ? [q.property] : [],
  )
  return [...new Set(['email', ...asked, ...definition.value.people.same])].map(key => ({
    key: key as string | null,
    label: house.propertyName(key),
  }))
})
const setSame = (first: string, second: string | null) =>
  set({ people: { ...definition.value.people, same: second && second !== first ? [first, second] : [first] } })
const KNOWN = [
  { key: 'update', name: 'Change what differs, as each question says' },
  { key: 'fill', name: 'Only fill gaps' },
  { key: 'leave', name: 'Leave all that is known' },
]
const UNKNOWN = [
  { key: 'create', name: 'Make a new lead' },
  { key: 'hold', name: 'Hold the entry until somebody lets it in' },
  { key: 'refuse', name: 'Refuse it, and say so' },
]
</script>

<template>
  <fieldset class="inside" :disabled="disabled">
    <legend class="unseen">What we do with an entry</legend>
    <label for="label">Label to give</label>
    <Select
      v-model="label"
      input-id="label"
      :options="labels"
      option-label="name"
      option-value="key"
      fluid
      :disabled="disabled"
      placeholder="What the score says"
      aria-label="Label to give"
    />
    <StoryboardLabelTime v-if="label" :how="given.how" :days="given.days" :disabled="disabled" called="Label to give" @change="setGiven" />
    <label for="tags">Tags to set <span>(commas between)</span></label>
    <InputText id="tags" v-model.lazy="tags" fluid />
    <label for="lists">Lists to put them on</label>
    <ListPick id="lists" v-model="lists" :disabled="disabled" called="Lists to put them on" />
    <label for="owner">Who gets a lead that nobody has yet</label>
    <Select
      v-model="owner"
      input-id="owner"
      :options="owners"
      option-label="name"
      option-value="id"
      fluid
      :disabled="disabled"
      placeholder="As the routing plan says"
      aria-label="Who gets a lead that nobody has yet"
    />
    <label for="next-step">Next step for a lead that has none <span>(empty: none)</span></label>
    <div class="row">
      <InputText
        id="next-step"
        :model-value="next?.text ?? ''"
        fluid
        maxlength="200"
        placeholder="Send the drawing"
        @update:model-value="setNext($event, next?.days ?? 1)"
      />
      <span v-if="next" class="days">
        <InputText
          :model-value="String(next.days)"
          inputmode="numeric"
          maxlength="3"
          aria-label="So many days later"
          @update:model-value="setNext(next.text, days($event))"
        />
        days later</span>
    </div>
    <StoryboardPropertiesToSet v-model="definition" :disabled="disabled" />
    <QuizResultActions v-if="definition.quiz" v-model="definition" :disabled="disabled" />
    <section v-for="(t, i) in tells" :key="t.key" :aria-label="`Colleagues to tell, ${i + 1}`">
      <div class="bar">
        <h2>Also tell</h2>
        <Button v-if="!disabled" variant="text" size="small" severity="secondary" aria-label="Take it out" @click="takeOut(t.key)">
          <Trash2 :size="15" aria-hidden="true" />
        </Button>
      </div>
      <MultiSelect
        :model-value="t.members"
        :options="house.words!.members"
        option-label="name"
        option-value="id"
        fluid
        placeholder="Colleagues"
        :show-toggle-all="false"
        :disabled="disabled"
        aria-label="Colleagues"
        @update:model-value="setTell(t.key, { members: $event })"
      />
      <label class="tick">
        <Checkbox
          :model-value="t.when !== null"
          binary
          :input-id="`tell-${i}-when`"
          :disabled="disabled"
          @update:model-value="setTell(t.key, { when: $event ? { all: [{ attribute: attributes[0]!.name, is: 'filled' }] } : null })"
        />
        Only if</label>
      <ConditionTree
        v-if="t.when"
        :model-value="t.when"
        :attributes="attributes"
        :activity-attributes="activityAttributes"
        :disabled="disabled"
        called="When they are told"
        @update:model-value="setTell(t.key, { when: $event })"
      />
      <span class="label">Subject</span>
      <TemplateField
        :id="`tell-${i}-subject`"
        kind="line"
        called="Subject"
        :places="placesFor(definition, 'inside')"
        :most="200"
        :disabled="disabled"
        :model-value="t.subject"
        @update:model-value="setTell(t.key, { subject: $event })"
      />
      <span class="label">Sentence above the answers</span>
      <TemplateField
        :id="`tell-${i}-text`"
        kind="line"
        called="Sentence above the answers"
        :places="placesFor(definition, 'inside')"
        :most="1000"
        :disabled="disabled"
        :model-value="t.text"
        @update:model-value="setTell(t.key, { text: $event })"
      />
    </section>
    <Button
      v-if="!disabled && tells.length < 5"
      label="Tell somebody else too"
      size="small"
      variant="outlined"
      class="add"
      @click="addTell"
    />
    <h2>Who is who</h2>
    <div class="pair">
      <div>
        <label for="same-first">The same person has the same</label>
        <Select
          input-id="same-first"
          :model-value="definition.people.same[0]"
          :options="telling"
          option-label="label"
          option-value="key"
          fluid
          :disabled="disabled"
          aria-label="The same person has the same"
          @update:model-value="setSame($event, definition.people.same[1] ?? null)"
        />
      </div>
      <div>
        <label for="same-second">and the same</label>
        <Select
          input-id="same-second"
          :model-value="definition.people.same[1] ?? null"
          :options="[{ key: null, label: 'nothing else' }, ...telling.filter(t => t.key !== definition.people.same[0])]"
          option-label="label"
          option-value="key"
          fluid
          :disabled="disabled"
          placeholder="nothing else"
          aria-label="and the same"
          @update:model-value="setSame(definition.people.same[0]!, $event)"
        />
      </div>
    </div>
    <p class="faded small">An e-mail address that somebody gives is theirs in any case.</p>
    <label for="known">Somebody we know fills it in</label>
    <Select
      input-id="known"
      :model-value="definition.people.known"
      :options="KNOWN"
      option-label="name"
      option-value="key"
      fluid
      :disabled="disabled"
      aria-label="Somebody we know fills it in"
      @update:model-value="set({ people: { ...definition.people, known: $event } })"
    />
    <label for="unknown">Somebody new fills it in</label>
    <Select
      input-id="unknown"
      :model-value="definition.people.unknown"
      :options="UNKNOWN"
      option-label="name"
      option-value="key"
      fluid
      :disabled="disabled"
      aria-label="Somebody new fills it in"
      @update:model-value="set({ people: { ...definition.people, unknown: $event } })"
    />
    <template v-if="definition.people.unknown === 'refuse'">
      <label for="refusal">What those read who are refused</label>
      <Textarea
        id="refusal"
        :model-value="definition.people.refusal"
        rows="2"
        auto-resize
        fluid
        maxlength="4000"
        :placeholder="strangerText({ ...definition.people, refusal: '' }, sayIn(definition.language))"
        @update:model-value="set({ people: { ...definition.people, refusal: $event ?? '' } })"
      />
    </template>
  </fieldset>
</template>

<style scoped>
.inside { margin: 0; padding: 0; border: 0; display: grid; gap: 4px; min-width: 0; }
.row { display: flex; gap: 10px; align-items: center; }
.days { flex: none; display: flex; gap: 6px; align-items: center; font-size: 14px; }
.days .p-inputtext { width: 4rem; }
section { display: grid; gap: 4px; margin-top: 12px; padding-top: 8px; border-top: 1px solid var(--rule); min-width: 0; }
.bar { display: flex; justify-content: space-between; align-items: center; }
h2 { margin-top: 16px; }
.pair { display: grid; grid-template-columns: repeat(2, minmax(0, 1fr)); gap: 10px; }
.pair label { display: block; margin-bottom: 3px; }
.tick { display: flex; gap: 8px; align-items: center; color: var(--ink); font-size: 15px; }
.add { justify-self: start; margin-top: 8px; }
label, .label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 8px; }
</style>

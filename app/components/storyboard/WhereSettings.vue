<script setup lang="ts">
import { sayIn } from '#core/languages/say'
import { DateTime } from 'luxon'
import type { PointDefinition } from '#core/points/definition'
import { foreignText, shutText } from '#core/points/refusals'

/** When a point takes entries, and from which sites. */
const definition = defineModel<PointDefinition>({ required: true })
defineProps<{ disabled: boolean }>()
const house = useHouse()
const { attributes, activityAttributes } = useEntryAttributes(definition)
const zone = computed(() => house.words!.house.zone)

const set = (change: Partial<PointDefinition['closing']>) => {
  definition.value = { ...definition.value, closing: { ...definition.value.closing, ...change } }
}
/** Shown and typed in the house's zone, kept as a moment. */
const local = (iso: string | null) => (iso ? DateTime.fromISO(iso, { zone: zone.value }).toFormat("yyyy-MM-dd'T'HH:mm") : '')
const moment = (text: string | undefined) => (text ? DateTime.fromISO(text, { zone: zone.value }).toUTC().toISO() : null)
const most = (text: string | undefined) => set({ entries: /^\d{1,7}$/.test(text?.trim() ?? '') && Number(text) > 0 ? Number(text) : null })
const setGuards = (change: Partial<PointDefinition['guards']>) => {
  definition.value = { ...definition.value, guards: { ...definition.value.guards, ...change } }
}
const CHALLENGES = [
  { key: 'attack', name: 'Only while machines are at it' },
  { key: 'always', name: 'Always' },
  { key: 'never', name: 'Never' },
]
const bounded = computed(
  () => definition.value.closing.from !== null || definition.value.closing.until !== null || definition.value.closing.entries !== null,
)
const origins = computed({
  get: () => definition.value.guards.origins.join('\n'),
  set: (text: string) => {
    const lines = [
      ...new Set(
        text
          .split(/\s+/)
          .filter(Boolean)
          .map(line => (URL.canParse(line) && /^https?:/.test(line) ? new URL(line).origin : line)),
      ),
    ].slice(0, 50)
    definition.value = { ...definition.value, guards: { ...definition.value.guards, origins: lines } }
  },
})
</script>

<template>
  <fieldset class="where" :disabled="disabled">
    <legend><h2>When it is open</h2></legend>
    <div class="two">
      <div>
        <label for="from">From</label>
        <DayField
          input-id="from"
          time
          :model-value="local(definition.closing.from)"
          :disabled="disabled"
          placeholder="no bound"
          @update:model-value="set({ from: moment($event ?? undefined) })"
        />
      </div>
      <div>
        <label for="until">Until</label>
        <DayField
          input-id="until"
          time
          :model-value="local(definition.closing.until)"
          :disabled="disabled"
          placeholder="no bound"
          @update:model-value="set({ until: moment($event ?? undefined) })"
        />
      </div>
    </div>
    <p class="faded small">In the time of {{ zone.replace('_', ' ') }}. Empty: no bound.</p>
    <label for="most">Closes after so many entries</label>
    <InputText
      id="most"
      :model-value="String(definition.closing.entries ?? '')"
      inputmode="numeric"
      fluid
      maxlength="7"
      placeholder="no limit"
      @update:model-value="most"
    />
    <template v-if="bounded">
      <template v-if="definition.closing.from !== null">
        <label for="early-text">What visitors read before it opens</label>
        <Textarea
          id="early-text"
          :model-value="definition.closing.early"
          rows="2"
          auto-resize
          fluid
          maxlength="4000"
          :placeholder="shutText({ ...definition.closing, early: '' }, 'early', sayIn(definition.language))"
          @update:model-value="set({ early: $event ?? '' })"
        />
      </template>
      <template v-if="definition.closing.entries !== null">
        <label for="full-text">What visitors read when it is full</label>
        <Textarea
          id="full-text"
          :model-value="definition.closing.full"
          rows="2"
          auto-resize
          fluid
          maxlength="4000"
          :placeholder="shutText({ ...definition.closing, full: '' }, 'full', sayIn(definition.language))"
          @update:model-value="set({ full: $event ?? '' })"
        />
      </template>
      <label for="closed-text">What visitors read while it is closed</label>
      <Textarea
        id="closed-text"
        :model-value="definition.closing.text"
        rows="2"
        auto-resize
        fluid
        maxlength="4000"
        placeholder="This form is closed."
        @update:model-value="set({ text: $event ?? '' })"
      />
    </template>
    <h2>Against machines</h2>
    <label for="challenge">A small sum for the browser, before an entry is taken</label>
    <Select
      input-id="challenge"
      :model-value="definition.guards.challenge"
      :options="CHALLENGES"
      option-label="name"
      option-value="key"
      fluid
      :disabled="disabled"
      aria-label="A small sum for the browser"
      @update:model-value="definition = { ...definition, guards: { ...definition.guards, challenge: $event } }"
    />
    <p class="faded small">People notice a second at most. Who has no script cannot work it out; what they send is held for you to look
      at.</p>
    <h2>Who looks first</h2>
    <label class="tick">
      <Checkbox
        :model-value="definition.guards.hold"
        binary
        input-id="hold"
        :disabled="disabled"
        @update:model-value="setGuards({ hold: Boolean($event) })"
      />
      Hold entries until somebody lets them in</label>
    <template v-if="definition.guards.hold">
      <label class="tick">
        <Checkbox
          :model-value="Boolean(definition.guards.when)"
          binary
          input-id="hold-when"
          :disabled="disabled"
          @update:model-value="setGuards({ when: $event ? { all: [{ attribute: attributes[0]!.name, is: 'filled' }] } : null })"
        />
        Only those for which this holds</label>
      <ConditionTree
        v-if="definition.guards.when"
        :model-value="definition.guards.when"
        :attributes="attributes"
        :activity-attributes="activityAttributes"
        :disabled="disabled"
        called="Which entries are held"
        @update:model-value="setGuards({ when: $event })"
      />
    </template>
    <template v-if="definition.guards.hold || definition.people.unknown === 'hold'">
      <label for="approvers">Who is told that one waits</label>
      <MultiSelect
        :model-value="definition.guards.approvers"
        input-id="approvers"
        :options="house.words!.members"
        option-label="name"
        option-value="id"
        placeholder="Nobody: somebody looks by themselves"
        fluid
        :disabled="disabled"
        :show-toggle-all="false"
        aria-label="Who is told that one waits"
        @update:model-value="setGuards({ approvers: $event })"
      />
    </template>
    <h2>Which sites may use it</h2>
    <label for="origins">Sites, one a line; empty: any site</label>
    <Textarea id="origins" v-model.lazy="origins" rows="2" auto-resize fluid placeholder="https://firm.example" />
    <template v-if="definition.guards.origins.length">
      <label for="foreign-text">What visitors read on any other site</label>
      <Textarea
        id="foreign-text"
        :model-value="definition.guards.refusal"
        rows="2"
        auto-resize
        fluid
        maxlength="4000"
        :placeholder="foreignText({ refusal: '' }, sayIn(definition.language))"
        @update:model-value="definition = { ...definition, guards: { ...definition.guards, refusal: $event ?? '' } }"
      />
    </template>
  </fieldset>
</template>

<style scoped>
.where { margin: 0; padding: 0; border: 0; display: grid; gap: 4px; min-width: 0; }
legend { padding: 0; }
h2:not(legend h2) { margin-top: 18px; }
label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 8px; display: block; margin-bottom: 3px; }
.tick { display: flex; gap: 8px; align-items: center; color: var(--ink); font-size: 15px; }
.two { display: grid; grid-template-columns: repeat(auto-fit, minmax(180px, 1fr)); gap: 0 10px; }
</style>

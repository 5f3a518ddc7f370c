<script setup lang="ts">
import { DateTime } from 'luxon'
import type { Condition } from '#core/conditions/condition'

/** Of whom results are shown: of which days, of one edition, of some people only. */
export interface Group {
  from: string
  to: string
  edition: number | null
  condition: Condition | null
}
const group = defineModel<Group>({ required: true })
defineProps<{ editions: { number: number; publishedAt: string }[]; called: string }>()
const { leadAttributes, activityAttributes } = useLeadAttributes()
const days = computed({
  get: () => [group.value.from, group.value.to].map(d => DateTime.fromISO(d).toJSDate()),
  set(range: (Date | null)[] | null) {
    const [from, to] = range ?? []
    if (!from || !to) return
    group.value = { ...group.value, from: DateTime.fromJSDate(from).toISODate()!, to: DateTime.fromJSDate(to).toISODate()! }
  },
})
const START: Condition = { all: [] }
const setCondition = (condition: Condition | null) => {
  group.value = { ...group.value, condition }
}
</script>

<template>
  <div class="group" role="group" :aria-label="called">
    <DatePicker
      v-model="days"
      selection-mode="range"
      date-format="d M yy"
      :manual-input="false"
      show-icon
      :aria-label="`${called}: from, until`"
      :input-props="{ 'aria-label': `${called}: from, until` }"
      size="small"
      class="days"
    />
    <Select
      v-if="editions.length > 1"
      :model-value="group.edition"
      :options="[{ number: null, name: 'All editions' }, ...editions.map(e => ({ number: e.number, name: `Edition ${e.number}` }))]"
      option-label="name"
      option-value="number"
      size="small"
      :aria-label="`${called}: edition`"
      placeholder="All editions"
      @update:model-value="group = { ...group, edition: $event }"
    />
    <Button v-if="!group.condition" label="Only some people …" size="small" variant="text" @click="setCondition(START)" />
    <Button v-else label="All people" size="small" variant="text" @click="setCondition(null)" />
    <ConditionTree
      v-if="group.condition"
      class="who"
      :model-value="group.condition"
      :attributes="leadAttributes"
      :activity-attributes="activityAttributes"
      :called="`${called}: who`"
      @update:model-value="setCondition($event)"
    />
  </div>
</template>

<style scoped>
.group {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
}
.days {
  width: 15.5rem;
}
.who {
  flex-basis: 100%;
}
</style>

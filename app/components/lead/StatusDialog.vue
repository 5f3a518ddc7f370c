<script setup lang="ts">
import { DateTime } from 'luxon'
import type { Status } from '#core/vocabulary'
import type { StatusSaid } from '~/composables/lead-acts'

/** What a status asks for before it stands: why, how much, on which day, until when. */
const visible = defineModel<boolean>('visible', { required: true })
const props = defineProps<{
  name: string
  status: Status | null
  /** @returns whether it was done; what went wrong was said */ set: (said: StatusSaid) => Promise<boolean>
}>()
const emit = defineEmits<{ left: [] }>()
const house = useHouse()
const reason = ref<string | null>(null)
const amount = ref<number | null>(null)
const on = ref<Date | null>(null)
const until = ref<Date | null>(null)
const tried = ref(false)
const asks = computed(() => new Set(props.status?.asks ?? []))
const parked = computed(() => props.status?.stage === 'parked')
const morning = (plus: object) => DateTime.now().plus(plus).set({ hour: 9, minute: 0, second: 0, millisecond: 0 }).toJSDate()
const QUICK = [
  { label: 'In a month', at: () => morning({ months: 1 }) },
  { label: 'In three months', at: () => morning({ months: 3 }) },
  { label: 'In half a year', at: () => morning({ months: 6 }) },
]
const digits = computed(
  () =>
    new Intl.NumberFormat('en', { style: 'currency', currency: house.words!.house.currency }).resolvedOptions().maximumFractionDigits ?? 2,
)
watch(visible, shown => {
  if (!shown) return
  reason.value = null
  amount.value = null
  on.value = asks.value.has('day') ? new Date() : null
  until.value = parked.value ? morning({ months: 1 }) : null
  tried.value = false
})
const missing = computed(() => ({
  reason: asks.value.has('reason') && !reason.value?.trim(),
  value: asks.value.has('value') && amount.value === null,
  day: asks.value.has('day') && !on.value,
  until: parked.value && (asks.value.has('until') || until.value !== null) && (!until.value || until.value <= new Date()),
}))
async function keep(): Promise<void> {
  tried.value = true
  if (Object.values(missing.value).some(Boolean)) return
  const said = {
    ...(reason.value?.trim() && { reason: reason.value.trim() }),
    ...(amount.value !== null && { value: Math.round(amount.value * 10 ** digits.value) }),
    ...(on.value && { on: isoDay(on.value) }),
    ...(until.value && parked.value && { until: until.value.toISOString() }),
  }
  if (await props.set(said)) visible.value = false
}
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    :header="`${name}: ${status?.name ?? ''}`"
    :style="{ width: '26rem' }"
    :dismissable-mask="true"
    @after-hide="emit('left')"
  >
    <form class="ask" novalidate @submit.prevent="keep">
      <template v-if="asks.has('reason') || status?.reasons.length">
        <label for="status-why">Why?</label>
        <div v-if="status?.reasons.length" class="quick" role="group" aria-label="Reasons">
          <Button
            v-for="r in status.reasons"
            :key="r"
            type="button"
            size="small"
            :variant="reason === r ? undefined : 'outlined'"
            :label="r"
            :aria-pressed="reason === r"
            @click="reason = r"
          />
        </div>
        <InputText
          id="status-why"
          v-model="reason"
          autofocus
          maxlength="300"
          placeholder="In your own words"
          fluid
          :invalid="tried && missing.reason"
        />
        <p v-if="tried && missing.reason" class="brick small" role="alert">Say why. Choose a reason, or write your own.</p>
      </template>
      <template v-if="asks.has('value')">
        <label for="status-value">What is it worth?</label>
        <InputNumber
          v-model="amount"
          input-id="status-value"
          mode="currency"
          :currency="house.words!.house.currency"
          locale="en-GB"
          :min="0"
          :max="9_999_999_999"
          :invalid="tried && missing.value"
          fluid
        />
        <p v-if="tried && missing.value" class="brick small" role="alert">Say what it is worth. Nothing is an answer too: 0.</p>
      </template>
      <template v-if="asks.has('day')">
        <label id="status-day" for="status-on">Agreed on</label>
        <DatePicker
          v-model="on"
          input-id="status-on"
          date-format="d M yy"
          :max-date="new Date()"
          aria-labelledby="status-day"
          fluid
          :invalid="tried && missing.day"
        />
        <p v-if="tried && missing.day" class="brick small" role="alert">Say on which day it was agreed.</p>
      </template>
      <template v-if="parked">
        <label id="status-until" for="status-wake">Look at them again</label>
        <DatePicker
          v-model="until"
          input-id="status-wake"
          show-time
          hour-format="24"
          date-format="D d M yy,"
          :step-minute="5"
          :min-date="new Date()"
          aria-labelledby="status-until"
          fluid
          :invalid="tried && missing.until"
        />
        <p class="quick">
          <Button v-for="q in QUICK" :key="q.label" type="button" size="small" variant="text" :label="q.label" @click="until = q.at()" />
        </p>
        <p v-if="tried && missing.until" class="brick small" role="alert">Choose a moment that is still to come.</p>
      </template>
      <p v-if="status && ['won', 'lost', 'parked'].includes(status.stage)" class="faded small">Their next step
        goes{{ parked ? ', and they wake up to their owner then' : '' }}. When they write again, they come back with this in their
        history.</p>
      <Button type="submit" :label="`Set ${status?.name ?? ''}`" />
    </form>
  </Dialog>
</template>

<style scoped>
.ask { display: grid; gap: 6px; }
.ask > .p-button { justify-self: start; margin-top: 6px; }
.quick { display: flex; flex-wrap: wrap; gap: 6px; }
</style>

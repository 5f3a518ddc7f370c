<script setup lang="ts">
import type { Hold } from '#core/scoring/label-held'
import type { LeadView } from '#core/team'

/** Sets a lead's label beside the score, for a time or for good, with a reason; and says how it is held now. */
const visible = defineModel<boolean>('visible', { required: true })
const props = defineProps<{ lead: LeadView }>()
const emit = defineEmits<{ set: [body: { label: string | null; how: Hold; until: string | null; reason: string }] }>()
const house = useHouse()
const label = ref<string | null>(null)
const how = ref<Hold>('floor')
const until = ref<Date | null>(null)
const reason = ref('')
watch(visible, now => {
  if (!now) return
  const { labelHeld, labelFloor } = props.lead
  label.value = labelFloor ?? props.lead.label
  how.value = labelHeld?.how ?? 'floor'
  until.value = labelHeld?.until ? new Date(Date.parse(labelHeld.until) - 1) : null
  reason.value = labelHeld?.by === 'person' ? labelHeld.reason : ''
})
const HOWS: { key: Hold; name: string }[] = [
  { key: 'floor', name: 'At least this one: the score may lift it' },
  { key: 'fixed', name: 'Exactly this one, whatever the score says' },
]
const tomorrow = new Date(Date.now() + 86_400_000)
function set(): void {
  if (!label.value || !reason.value.trim()) return
  const end = until.value
  visible.value = false
  // The day that is chosen still counts.
  emit('set', {
    label: label.value,
    how: how.value,
    until: end && new Date(end.getFullYear(), end.getMonth(), end.getDate() + 1).toISOString(),
    reason: reason.value.trim(),
  })
}
function letGo(): void {
  visible.value = false
  emit('set', { label: null, how: 'floor', until: null, reason: '' })
}
</script>

<template>
  <Dialog v-model:visible="visible" modal :header="`The label of ${lead.name}`" :style="{ width: 'min(480px, 94vw)' }" dismissable-mask>
    <form class="hold" @submit.prevent="set">
      <label for="hold-label">Label</label>
      <Select
        v-model="label"
        input-id="hold-label"
        :options="house.words!.labels"
        option-label="name"
        option-value="key"
        fluid
        autofocus
        aria-label="Label"
      />
      <label v-for="h in HOWS" :key="h.key" class="tick">
        <RadioButton v-model="how" :value="h.key" :input-id="`how-${h.key}`" name="how" /> {{ h.name }}
      </label>
      <label for="hold-until">Up to and with <span class="faded small">(empty: for good)</span></label>
      <DatePicker
        v-model="until"
        input-id="hold-until"
        date-format="d M yy"
        :min-date="tomorrow"
        show-button-bar
        fluid
        aria-label="Up to and with"
      />
      <label for="hold-reason">Why</label>
      <InputText id="hold-reason" v-model="reason" maxlength="300" fluid placeholder="They rang, and want to begin in spring" />
      <div class="do">
        <Button type="submit" label="Set it" :disabled="!label || !reason.trim()" />
        <Button v-if="lead.labelFloor" label="Let the score decide" variant="outlined" @click="letGo" />
      </div>
    </form>
  </Dialog>
</template>

<style scoped>
.hold { display: grid; gap: 4px; }
.hold > label:not(.tick) { margin-top: 8px; font-size: 14px; }
.tick { display: flex; gap: 8px; align-items: center; margin-top: 4px; }
.do { display: flex; flex-wrap: wrap; gap: 8px; margin-top: 14px; }
</style>

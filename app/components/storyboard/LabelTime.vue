<script setup lang="ts">
import type { Hold } from '#core/scoring/label-held'

/** How the label that a point gives is held: at least or exactly, and how long. */
const props = defineProps<{ how?: Hold; days?: number | null; disabled: boolean; called: string }>()
const emit = defineEmits<{ change: [{ how?: Hold; days?: number }] }>()
const HOWS = [
  { key: 'floor', name: 'at least' },
  { key: 'fixed', name: 'exactly' },
]
const kept = (how: Hold | undefined, days: number | null | undefined) =>
  emit('change', { ...(how === 'fixed' && { how }), ...(days && { days }) })
function setDays(text: string | undefined): void {
  const typed = text?.trim() ?? ''
  kept(props.how, /^\d{1,4}$/.test(typed) && Number(typed) > 0 ? Math.min(3650, Number(typed)) : null)
}
</script>

<template>
  <div class="time">
    <Select
      :model-value="how ?? 'floor'"
      :options="HOWS"
      option-label="name"
      option-value="key"
      size="small"
      :disabled="disabled"
      :aria-label="`${called}: at least or exactly`"
      @update:model-value="kept($event, days)"
    />
    <span>for</span>
    <InputText
      :model-value="days ? String(days) : ''"
      inputmode="numeric"
      maxlength="4"
      size="small"
      :disabled="disabled"
      placeholder="good"
      :aria-label="`${called}: for so many days; empty for good`"
      @change="setDays(($event.target as HTMLInputElement).value)"
    />
    <span v-if="days">{{ days === 1 ? 'day' : 'days' }}</span>
  </div>
</template>

<style scoped>
.time { display: flex; gap: 8px; align-items: center; font-size: 14px; }
.time .p-inputtext { width: 72px; }
</style>

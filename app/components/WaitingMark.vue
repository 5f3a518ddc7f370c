<script setup lang="ts">
import type { Urgency } from '#core/follow-up/urgency'

/** How long somebody has waited of the time that was promised: words and a bar. */
const props = defineProps<{ urgency: Urgency; /** When the promise has run out. */ by?: string | null; short?: boolean }>()
const house = useHouse()
const words = computed(() => {
  const { waited, target, state } = props.urgency
  const time = (minutes: number) => (minutes < 1 ? 'under 1 min' : workingTime(minutes, house.dayHours))
  if (props.short) return state === 'overdue' ? `by ${time(waited - target)}` : `${time(target - waited)} left`
  const working = (minutes: number) => time(minutes).replace(' ', ' working ')
  if (state === 'overdue') return `by ${working(waited - target)}${props.by ? `, since ${due(props.by)}` : ''}`
  return `${working(target - waited)} left${props.by ? `, by ${due(props.by)}` : ` of ${time(target)}`}`
})
</script>

<template>
  <span class="waiting" :class="urgency.state.replace(' ', '-')">
    <span class="bar" aria-hidden="true"><span :style="{ width: `${Math.min(100, 100 * urgency.waited / urgency.target)}%` }" /></span>
    <span><b v-if="urgency.state === 'overdue'">Overdue </b><b v-else-if="urgency.state === 'soon'">Soon: </b>{{ words }}</span>
  </span>
</template>

<style scoped>
.waiting { display: inline-flex; align-items: center; gap: 8px; font-size: 13px; line-height: 18px; color: var(--faded); font-variant-numeric: tabular-nums; }
.bar { width: 34px; height: 4px; background: var(--rule); flex: none; }
.bar span { display: block; height: 100%; background: var(--slate); }
.soon { color: var(--honey); } .soon .bar span { background: var(--honey-mark); }
.overdue { color: var(--brick); } .overdue .bar span { background: var(--brick); }
</style>

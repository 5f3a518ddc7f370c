<script setup lang="ts">
import type { DaySpan } from '#core/working-time'
import { dayInWords, readDay } from '#core/working-week'

/** A week's working hours, typed day by day: `8-12, 13:30-18`; nothing for a day off. */
const week = defineModel<DaySpan[][]>({ required: true })
defineProps<{ called: string; disabled?: boolean }>()
const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
const typed = ref(week.value.map(dayInWords))
const flaws = ref<boolean[]>(DAYS.map(() => false))
watch(week, now => {
  typed.value = now.map((day, i) => (flaws.value[i] ? typed.value[i]! : dayInWords(day)))
})
function take(i: number): void {
  const spans = readDay(typed.value[i]!)
  flaws.value[i] = spans === null
  if (spans) week.value = week.value.map((day, n) => (n === i ? spans : day))
}
defineExpose({ isRight: computed(() => !flaws.value.includes(true)) })
</script>

<template>
  <fieldset class="week">
    <legend class="unseen">{{ called }}</legend>
    <template v-for="(day, i) in DAYS" :key="day">
      <label :for="`${called}-${i}`">{{ day }}</label>
      <span>
        <InputText
          :id="`${called}-${i}`"
          v-model="typed[i]"
          size="small"
          maxlength="60"
          placeholder="off"
          :disabled="disabled"
          :invalid="flaws[i]"
          :aria-describedby="flaws[i] ? `${called}-${i}-flaw` : undefined"
          @change="take(i)"
        />
        <span v-if="flaws[i]" :id="`${called}-${i}-flaw`" class="brick small" role="alert">Like 8–12, 13:30–18. Nothing: a day off.</span>
      </span>
    </template>
  </fieldset>
</template>

<style scoped>
.week { display: grid; grid-template-columns: max-content minmax(0, 1fr); gap: 4px 14px; align-items: center; margin: 0; padding: 0; border: 0; }
.week label { margin: 0; }
.week input { width: 13rem; max-width: 100%; }
.week span { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; }
</style>

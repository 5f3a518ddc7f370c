<script setup lang="ts">
import { DateTime } from 'luxon'

/** A day (`2026-05-01`), or with `time` a moment on the wall (`2026-05-01T09:00`), chosen in the house's calendar or typed. */
const day = defineModel<string | null>({ required: true })
const props = defineProps<{
  time?: boolean
  inputId?: string
  called?: string
  size?: 'small'
  disabled?: boolean
  describedby?: string
  placeholder?: string
}>()
const format = computed(() => (props.time ? "yyyy-MM-dd'T'HH:mm" : 'yyyy-MM-dd'))
const picked = computed<Date | null>({
  get() {
    const at = day.value ? DateTime.fromISO(day.value) : null
    return at?.isValid ? at.toJSDate() : null
  },
  set: to => {
    day.value = to ? DateTime.fromJSDate(to).toFormat(format.value) : null
  },
})
</script>

<template>
  <DatePicker
    v-model="picked"
    :input-id="inputId"
    :show-time="time"
    hour-format="24"
    :step-minute="5"
    date-format="d M yy"
    :size="size"
    :disabled="disabled"
    :placeholder="placeholder"
    show-button-bar
    fluid
    :pt="{ pcInputText: { root: { 'aria-label': called, 'aria-describedby': describedby } } }"
  />
</template>

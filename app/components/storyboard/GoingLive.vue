<script setup lang="ts">
import { CalendarClock } from 'lucide-vue-next'
import { DateTime } from 'luxon'
import type { PointView } from '#core/team'

/** Lets the working copy, as it is now, go live by itself at a moment. */
const props = defineProps<{ going: PointView['goingLive']; /** Nothing keeps it from going live. */ may: boolean; busy: boolean }>()
const emit = defineEmits<{ plan: [at: string | null] }>()
const house = useHouse()
const panel = ref<{ toggle: (e: Event) => void; hide: () => void }>()
const zone = computed(() => house.words!.house.zone)
const at = ref<string | null>('')
const flaw = ref('')
const nextMorning = () => DateTime.now().setZone(zone.value).plus({ days: 1 }).set({ hour: 9, minute: 0 })
function open(event: Event): void {
  const planned = props.going && !props.going.flaw ? DateTime.fromISO(props.going.at).setZone(zone.value) : nextMorning()
  at.value = planned.toFormat("yyyy-MM-dd'T'HH:mm")
  flaw.value = ''
  panel.value?.toggle(event)
}
function plan(): void {
  const moment = DateTime.fromISO(at.value ?? '', { zone: zone.value })
  if (!moment.isValid) return void (flaw.value = 'Say the day and the hour.')
  if (moment <= DateTime.now()) return void (flaw.value = 'This moment is past. Choose one that is to come.')
  panel.value?.hide()
  emit('plan', moment.toUTC().toISO()!)
}
function drop(): void {
  panel.value?.hide()
  emit('plan', null)
}
</script>

<template>
  <Button
    v-tooltip.bottom="'Make it live at a date'"
    variant="outlined"
    aria-label="Make it live at a date"
    aria-haspopup="dialog"
    :loading="busy"
    @click="open"
  >
    <CalendarClock :size="17" aria-hidden="true" />
  </Button>
  <Popover ref="panel" aria-label="Make it live at a date">
    <form class="plan" @submit.prevent="plan">
      <label for="live-at">It goes live, as it is now, on</label>
      <DayField v-model="at" input-id="live-at" time describedby="live-at-says" />
      <p id="live-at-says" class="small faded">By the clock in {{ zone.replace(/^.*\//, '') }}. What you change afterwards is not part of it
        until you plan it anew.</p>
      <p v-if="!may" class="small brick">The checks say what has to be mended first, or nothing is changed.</p>
      <p v-if="flaw" class="small brick" role="alert">{{ flaw }}</p>
      <div class="acts">
        <Button type="submit" size="small" :label="going && !going.flaw ? 'Plan it anew' : 'Plan it'" :disabled="!may" />
        <Button v-if="going" size="small" variant="text" label="Take the plan back" @click="drop" />
      </div>
    </form>
  </Popover>
</template>

<style scoped>
.plan { display: grid; gap: 6px; width: 300px; max-width: 80vw; }
label { font-size: 13px; line-height: 18px; color: var(--faded); }
p { margin: 0; }
.acts { display: flex; gap: 6px; }
</style>

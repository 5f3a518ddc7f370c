<script setup lang="ts">
import { workBetween, type WorkingHours } from '#core/working-time'

/** Somebody's day as a strip of hours: dark where they work, hatched where they are away, a line where it is now. */
const props = defineProps<{
  hours: WorkingHours
  absences: { from: string; until: string }[]
  zone: string
  /** A moment of the day that is shown. */ at: number
  now: number
}>()
const hatched = useId()
/** The day in the firm's zone, from midnight to midnight. */
const day = computed(() => {
  const wall = new Intl.DateTimeFormat('en-CA', {
    timeZone: props.zone,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  })
  const part = Object.fromEntries(wall.formatToParts(props.at).map(p => [p.type, Number(p.value)]))
  const begins = props.at - (part.hour! * 60 + part.minute!) * 60_000 - (props.at % 60_000)
  return { begins, ends: begins + 86_400_000 }
})
const WIDTH = 192
const x = (at: number) => Math.min(WIDTH, Math.max(0, ((at - day.value.begins) / 86_400_000) * WIDTH))
const part = (from: number, until: number) => ({ x: x(from), width: Math.max(0, x(until) - x(from)) })
const work = computed(() => workBetween(day.value.begins, day.value.ends, props.hours).map(s => part(s.from, s.until)))
const away = computed(() =>
  props.absences
    .map(a => ({ from: Date.parse(a.from), until: Date.parse(a.until) }))
    .filter(a => a.from < day.value.ends && a.until > day.value.begins)
    .map(a => part(a.from, a.until)),
)
const clock = (at: number) => new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit', timeZone: props.zone })
const isToday = computed(() => day.value.begins <= props.now && props.now < day.value.ends)
const says = computed(() => {
  const spans = workBetween(day.value.begins, day.value.ends, props.hours).map(s => `${clock(s.from)} to ${clock(s.until)}`)
  return `${isToday.value ? 'Today' : new Date(props.at).toLocaleDateString('en-GB', { weekday: 'long', timeZone: props.zone })} ${spans.length ? `at work ${spans.join(' and ')}` : 'not at work'}${away.value.length ? ', but away' : ''}`
})
</script>

<template>
  <svg class="strip" :viewBox="`0 0 ${WIDTH} 14`" role="img" :aria-label="says">
    <title>{{ says }}</title>
    <defs>
      <pattern :id="hatched" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="5" height="5" class="paper" />
        <rect width="1.6" height="5" class="line" />
      </pattern>
    </defs>
    <line v-for="h in [0, 6, 12, 18, 24]" :key="h" class="rule" :x1="h * WIDTH / 24" :x2="h * WIDTH / 24" y1="0" y2="14" />
    <line class="rule" x1="0" :x2="WIDTH" y1="13.5" y2="13.5" />
    <rect v-for="(s, i) in work" :key="i" class="work" :x="s.x" :width="s.width" y="4" height="7" />
    <rect v-for="(s, i) in away" :key="`a${i}`" :fill="`url(#${hatched})`" :x="s.x" :width="s.width" y="3" height="9" />
    <line v-if="isToday" class="now" :x1="x(now)" :x2="x(now)" y1="0" y2="14" />
  </svg>
</template>

<style scoped>
.strip { width: 100%; max-width: 192px; height: 14px; overflow: visible; }
.rule { stroke: var(--rule); }
.work { fill: var(--ink); opacity: 0.75; }
.paper { fill: var(--sheet); }
.line { fill: var(--faded); }
.now { stroke: var(--spruce); stroke-width: 1.5; }
</style>

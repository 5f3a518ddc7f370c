<script setup lang="ts">
import { DateTime } from 'luxon'
import { interestThen, scoreThen } from '#core/scoring/course'
import type { ScoreCourseView } from '#core/team'

/** A lead's score over its life: fit and interest as two thin curves, labels as bands behind them, what happened as ticks; a slider asks for any moment. */
const props = defineProps<{ course: ScoreCourseView; /** Now, in ms since 1970. */ now: number }>()
const house = useHouse()
const moments = computed(() => props.course.moments)
const from = computed(() => moments.value[0]?.at ?? props.now)
/** Some room behind now, so that the last curve can be told from the edge. */
const until = computed(() => Math.max(props.now, from.value + 3_600_000))
const at = ref(props.now)
const [WIDE, HIGH, LEFT, TOP, BOTTOM] = [640, 190, 26, 20, 18]
const x = (t: number) => LEFT + ((t - from.value) / (until.value - from.value)) * (WIDE - LEFT - 8)
const samples = computed(() => {
  const steps = Array.from({ length: 161 }, (_, i) => from.value + ((until.value - from.value) * i) / 160)
  return [...new Set([...steps, ...moments.value.flatMap(m => [m.at - 1, m.at])])]
    .filter(t => t >= from.value && t <= until.value)
    .sort((a, b) => a - b)
})
const range = computed(() => {
  const values = [...samples.value.map(t => interestThen(moments.value, t)), ...moments.value.map(m => m.fit), 0, 50]
  return { low: Math.min(...values), high: Math.max(...values) * 1.06 }
})
const y = (n: number) => TOP + (1 - (n - range.value.low) / (range.value.high - range.value.low)) * (HIGH - TOP - BOTTOM)
const path = (points: [number, number][]) => points.map(([t, n], i) => `${i ? 'L' : 'M'}${x(t).toFixed(1)} ${y(n).toFixed(1)}`).join('')
const interest = computed(() => path(samples.value.map(t => [t, interestThen(moments.value, t)])))
const fit = computed(() => {
  const points: [number, number][] = []
  moments.value.forEach((m, i) => points.push([m.at, moments.value[i - 1]?.fit ?? m.fit], [m.at, m.fit]))
  const last = moments.value.at(-1)
  return path(last ? [...points, [until.value, last.fit]] : points)
})
/** Spans with one label, one behind the other. */
const bands = computed(() => {
  const spans: { label: string | null; from: number; until: number }[] = []
  for (const m of moments.value) {
    const last = spans.at(-1)
    if (last?.label === m.label) continue
    if (last) last.until = m.at
    spans.push({ label: m.label, from: m.at, until: until.value })
  }
  return spans.filter(s => s.until > s.from)
})
const rank = (label: string | null) =>
  label === null ? 0 : (house.words!.labels.findIndex(l => l.key === label) + 1) / house.words!.labels.length
const then = computed(() => scoreThen(moments.value, at.value))
const parts = computed(() =>
  [...then.value.parts].reverse().map(p => ({ ...p, ...moments.value[p.of]!, interest: p.interest, fit: p.fit })),
)
const grid = computed(() => [0, 25, 50, 75, 100].filter(n => n <= range.value.high))
const signed = (n: number) => (n > 0 ? `+${n}` : n < 0 ? `−${-n}` : '')
const momentText = (t: number) => DateTime.fromMillis(t).toFormat('d LLL yyyy, HH:mm')
const dayText = (t: number) => DateTime.fromMillis(t).toFormat('d LLL')
const step = computed(() => Math.max(60_000, Math.round((until.value - from.value) / 400)))
const move = (event: Event) => {
  const asked = Number((event.target as HTMLInputElement).value)
  // The last place is now itself.
  at.value = asked >= until.value - step.value ? props.now : asked
}
/** To the event before or behind. */
function jump(by: 1 | -1): void {
  const times = [...new Set(moments.value.map(m => m.at))]
  const next = by > 0 ? times.find(t => t > at.value) : times.findLast(t => t < at.value)
  at.value = next ?? (by > 0 ? props.now : from.value)
}
</script>

<template>
  <div class="course">
    <p v-if="course.next" class="next">
      If nothing happens, they are
      <b>{{ house.labelName(course.next.label) }}</b>
      from {{ due(course.next.at) }} on.
    </p>
    <svg
      :viewBox="`0 0 ${WIDE} ${HIGH}`"
      role="img"
      :aria-label="`Fit and interest from ${momentText(from)} until now. The slider below it tells any moment.`"
    >
      <g v-for="b in bands" :key="b.from">
        <rect
          :x="x(b.from)"
          :width="x(b.until) - x(b.from)"
          :y="TOP"
          :height="HIGH - TOP - BOTTOM"
          class="band"
          :style="{ opacity: 0.08 + 0.5 * rank(b.label) }"
        />
        <text v-if="x(b.until) - x(b.from) > 70" :x="x(b.from) + 3" :y="TOP - 6" class="small">{{ house.labelName(b.label) }}</text>
      </g>
      <g v-for="n in grid" :key="n">
        <line :x1="LEFT" :x2="WIDE - 8" :y1="y(n)" :y2="y(n)" class="grid" />
        <text :x="LEFT - 5" :y="y(n) + 4" text-anchor="end" class="small">{{ n }}</text>
      </g>
      <line v-for="(m, i) in moments" :key="i" :x1="x(m.at)" :x2="x(m.at)" :y1="HIGH - BOTTOM" :y2="HIGH - BOTTOM + 5" class="tick" />
      <path :d="fit" class="fit" />
      <path :d="interest" class="interest" />
      <line :x1="x(at)" :x2="x(at)" :y1="TOP" :y2="HIGH - BOTTOM" class="at" />
      <circle :cx="x(at)" :cy="y(then.fit)" r="3.5" class="fit-dot" />
      <circle :cx="x(at)" :cy="y(interestThen(moments, at))" r="3.5" class="interest-dot" />
      <text :x="LEFT" :y="HIGH - 3" class="small">{{ dayText(from) }}</text>
      <text :x="WIDE - 8" :y="HIGH - 3" text-anchor="end" class="small">now</text>
    </svg>
    <p class="legend small faded">
      <span class="key fit-key" aria-hidden="true" /> fit <span class="key interest-key" aria-hidden="true" /> interest
    </p>
    <div class="slide">
      <Button label="Before" aria-label="What happened before" size="small" variant="text" severity="secondary" @click="jump(-1)" />
      <input
        type="range"
        :min="from"
        :max="until"
        :step="step"
        :value="at"
        aria-label="Moment"
        :aria-valuetext="momentText(at)"
        @input="move"
      />
      <Button label="Next" aria-label="What happened next" size="small" variant="text" severity="secondary" @click="jump(1)" />
    </div>
    <p role="status">
      <b>{{ at === now ? 'Now' : momentText(at) }}</b>: fit {{ then.fit }}, interest {{ then.interest }}, <LabelMark :label="then.label" />
    </p>
    <table v-if="parts.length" class="figures">
      <caption class="unseen">
        What made it
      </caption>
      <thead>
        <tr>
          <th scope="col">What happened</th>
          <th scope="col" class="n">Fit</th>
          <th scope="col" class="n">Interest left</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(p, i) in parts" :key="i">
          <td>
            <TimelineSentence :sentence="p.sentence" /> <span class="faded small">{{ momentText(p.at) }}</span>
          </td>
          <td class="n">{{ signed(p.fit) }}</td>
          <td class="n">{{ signed(p.interest) }}</td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <th scope="row">Together</th>
          <td class="n">{{ then.fit }}</td>
          <td class="n">{{ then.interest }}</td>
        </tr>
      </tfoot>
    </table>
  </div>
</template>

<style scoped>
.course {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
}
svg {
  width: 100%;
  max-width: 760px;
  height: auto;
}
svg text {
  fill: var(--faded);
  font-size: 11px;
}
.band {
  fill: var(--wash);
}
.grid {
  stroke: var(--rule);
  stroke-width: 0.7;
}
.tick {
  stroke: var(--slate);
}
.fit,
.interest {
  fill: none;
  stroke-width: 1.6;
}
.fit {
  stroke: var(--slate);
  stroke-dasharray: 5 3;
}
.interest {
  stroke: var(--spruce);
}
.at {
  stroke: var(--ink);
  stroke-width: 0.8;
}
.fit-dot {
  fill: var(--slate);
}
.interest-dot {
  fill: var(--spruce);
}
.legend {
  display: flex;
  gap: 6px;
  align-items: center;
}
.key {
  width: 22px;
  border-top: 2px solid var(--spruce);
}
.fit-key {
  border-top: 2px dashed var(--slate);
}
.interest-key {
  margin-left: 10px;
}
.slide {
  display: flex;
  gap: 6px;
  align-items: center;
  max-width: 760px;
}
.slide input {
  flex: 1;
  min-width: 0;
  accent-color: var(--spruce);
}
table {
  max-width: 760px;
}
td,
th {
  padding: 3px 0 3px 12px;
  border-top: 1px solid var(--rule);
  text-align: left;
  font-weight: 400;
}
td:first-child,
th:first-child {
  padding-left: 0;
}
.n {
  text-align: right;
  white-space: nowrap;
}
tfoot th,
tfoot td {
  border-top-color: var(--faded);
  font-weight: 650;
}
</style>

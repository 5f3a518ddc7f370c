<script setup lang="ts">
import type { Funnel } from '#core/team'
import { NuxtLink } from '#components'

const { data: funnel } = useLiveQuery(() => api<Funnel>('/api/team/funnel'), { leads: true, points: true }, 400)
const route = useRoute()
const house = useHouse()
/** Statuses in which leads are worked on. */
const open = computed(() => house.words!.statuses.filter(s => s.stage === 'first' || s.stage === 'open').map(s => s.key))

const stops = computed(() => {
  const c = funnel.value
  const figure = (n: number | undefined, what: string) => (n === undefined ? { n: '–', what } : { n: n.toLocaleString('en'), what })
  return [
    { name: 'Today', path: '/', people: null as Record<string, string | string[]> | null, ...figure(c?.today, 'wait for you') },
    { name: 'Capture', path: '/capture', people: null, ...figure(c?.entries, 'entries this week') },
    {
      name: 'Qualify',
      path: '/qualify',
      people: { label: house.words!.labels.filter(l => l.qualified).map(l => l.key), status: open.value, submitted: 'yes' },
      ...figure(c?.qualified, 'qualified, open'),
    },
    {
      name: 'Route',
      path: '/route',
      people: { owner: 'none', status: open.value, submitted: 'yes' },
      ...figure(c?.unowned, 'without owner'),
    },
    { name: 'Follow up', path: '/follow-up', people: { waiting: 'true' }, ...figure(c?.waiting, 'wait for us') },
    { name: 'Learn', path: '/learn', people: { passed: 'won', days: '30' }, ...figure(c?.won, 'won in 30 days') },
  ]
})
const legs = computed(() => {
  const p = funnel.value?.passed
  return p ? [null, p.toQualify, p.toRoute, p.toFollowUp, p.toLearn] : [null, 0, 0, 0, 0]
})
const most = computed(() => Math.max(1, ...legs.value.map(n => n ?? 0)))
const thickness = (n: number | null) => (n === null ? 1 : 1 + Math.round(8 * Math.sqrt(n / most.value)))
const here = (path: string) => (path === '/' ? route.path === '/' : route.path.startsWith(path))
</script>

<template>
  <nav class="course" aria-label="Course">
    <template v-for="(stop, i) in stops" :key="stop.path">
      <span
        v-if="i"
        class="leg"
        :title="legs[i - 1] === null ? undefined : `${count(legs[i - 1]!, 'person', 'people')} passed here in the last seven days`"
      >
        <span class="line" :style="{ height: `${thickness(legs[i - 1]!)}px` }" />
        <span v-if="legs[i - 1] !== null" class="unseen">
          {{ count(legs[i - 1]!, 'person', 'people') }} passed from {{ stops[i - 1]!.name }} to {{ stop.name }} in the last seven
          days.</span>
      </span>
      <div class="stop" :class="{ here: here(stop.path) }">
        <NuxtLink :to="stop.path" class="name" :aria-current="here(stop.path) ? 'page' : undefined">{{ stop.name }}</NuxtLink>
        <component
          :is="stop.people ? NuxtLink : 'span'"
          v-bind="stop.people && { to: { path: '/follow-up', query: stop.people } }"
          class="figure"
        >
          <b>{{ stop.n }}</b> <span class="what">{{ stop.what }}</span>
        </component>
      </div>
    </template>
  </nav>
</template>

<style scoped>
.course { display: flex; align-items: stretch; flex: 1; min-width: 0; }
.stop { position: relative; flex: none; padding: 3px 10px 2px; border-bottom: 3px solid transparent; }
.stop a { color: inherit; text-decoration: none; } .stop a:hover { text-decoration: underline; text-underline-offset: 3px; }
.name::after { content: ''; position: absolute; inset: 0; }
/* Each is as tall as a finger may be small: 24 px. */
.name { display: block; padding-top: 6px; line-height: 18px; font-family: var(--heading); font-weight: 600; }
a.figure { position: relative; z-index: 1; }
.figure { display: block; width: fit-content; line-height: 18px; padding-bottom: 6px; font-size: 12.5px; color: var(--faded); font-variant-numeric: tabular-nums; white-space: nowrap; }
.figure b { color: var(--ink); font-weight: 650; }
.here { border-bottom-color: var(--spruce); }
.here a.name { color: var(--spruce); }
.leg { flex: 1; min-width: 8px; max-width: 90px; height: 36px; display: flex; align-items: center; }
.line { display: block; width: 100%; background: color-mix(in srgb, var(--spruce) 45%, var(--rule)); transition: height 0.4s; }
@media (max-width: 1180px) { .what { display: none; } }
@media (max-width: 700px) {
  .course { justify-content: space-between; }
  .leg { display: none; }
  .stop { padding: 2px 4px; text-align: center; } .figure { margin: 0 auto; }
  .name { font-size: 12.5px; }
}
</style>

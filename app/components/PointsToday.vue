<script setup lang="ts">
import type { PointKind } from '#core/points/kinds'
import type { PointsTodayView } from '#core/team'

/** A marketer's morning: their forms and pages instead of people. */
const { data, problem } = useLiveQuery(
  () => api<PointsTodayView>('/api/team/today/points'),
  { leads: true, points: true, review: true, deliveries: true },
  2000,
)
const to = (p: { id: string; kind?: PointKind }, results = false) =>
  `/capture/${p.kind === 'page' ? 'pages' : 'points'}/${p.id}${results ? '/results' : ''}`
const held = computed(() => data.value?.came.reduce((n, c) => n + c.held, 0) ?? 0)
const quiet = computed(() => data.value && !data.value.broken.length && !data.value.undelivered.length && !data.value.stale.length)
const path = (page: string | null) =>
  page && URL.canParse(page) ? `${new URL(page).host}${new URL(page).pathname}` : (page ?? 'a page that does not say which')
</script>

<template>
  <section aria-label="Forms and pages today">
    <p v-if="problem && !data" class="brick" role="alert">{{ problem.message }}</p>
    <template v-if="data">
      <h2>{{ count(data.came.reduce((n, c) => n + (c.kind !== 'page' ? c.entries : 0), 0), 'entry', 'entries') }} since yesterday</h2>
      <p v-if="held" class="small"><NuxtLink to="/qualify/review">{{ count(held, 'waits', 'wait') }} for somebody to let in</NuxtLink></p>
      <ul v-if="data.came.length">
        <li v-for="c in data.came" :key="c.id + c.kind">
          <NuxtLink :to="to(c, true)">{{ c.name }}</NuxtLink>
          <span v-if="c.kind === 'page'" class="faded small">page</span>
          <b class="figure">{{ c.entries }}</b>
        </li>
      </ul>
      <p v-else class="faded">Nobody sent anything. <NuxtLink to="/capture/live">Who is on the site now?</NuxtLink></p>
      <h2>What needs you</h2>
      <p v-if="quiet" class="faded">Nothing is broken, and every copy asks what is live.</p>
      <ul v-else>
        <li v-for="b in data.broken" :key="`b${b.id}`" class="wrong">
          <NuxtLink :to="to(b)">{{ b.name }}</NuxtLink>
          <span>{{ b.why }}</span>
        </li>
        <li v-for="u in data.undelivered" :key="`u${u.id}`" class="wrong">
          <NuxtLink :to="to(u)">{{ u.name }}</NuxtLink>
          <span>{{ count(u.mails, 'mail', 'mails') }} to visitors could not be delivered this week.</span>
        </li>
        <li v-for="s in data.stale" :key="`s${s.id}${s.page}`" class="soon">
          <NuxtLink :to="to(s)">{{ s.name }}</NuxtLink>
          <span>The copy on {{ path(s.page) }} still asks edition {{ s.edition }}; {{ s.live }} is live.</span>
        </li>
      </ul>
      <template v-if="data.live.length">
        <h2>Went live this week</h2>
        <ul>
          <li v-for="l in data.live" :key="l.id + l.number">
            <NuxtLink :to="to(l)">{{ l.name }}</NuxtLink>
            <span class="faded small">edition {{ l.number }}{{ l.by ? `, by ${l.by}` : '' }}, {{ due(l.at) }}</span>
          </li>
        </ul>
      </template>
    </template>
  </section>
</template>

<style scoped>
h2 { margin: 18px 0 4px; font-size: 18px; line-height: 26px; }
h2:first-child { margin-top: 0; }
p { margin: 0 0 4px; }
ul { margin: 0; padding: 0; list-style: none; }
li { display: flex; flex-wrap: wrap; gap: 2px 12px; align-items: baseline; padding: 6px 0; border-bottom: 1px solid var(--rule); }
.figure { margin-inline-start: auto; font-variant-numeric: tabular-nums; }
.wrong { border-inline-start: 3px solid var(--brick); padding-inline-start: 10px; }
.soon { border-inline-start: 3px solid var(--honey); padding-inline-start: 10px; }
</style>

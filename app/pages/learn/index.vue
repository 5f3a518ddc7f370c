<script setup lang="ts">
import type { ReportsView, YieldView } from '#core/team'

useHead({ title: 'Learn – Cavlin' })
const days = ref(90)
const SPANS = [
  { n: 14, name: 'Two weeks' },
  { n: 30, name: '30 days' },
  { n: 90, name: '90 days' },
  { n: 365, name: 'A year' },
]
const { data, problem, refresh } = useLiveQuery(
  () => api<ReportsView>('/api/team/reports', { query: { days: days.value } }),
  { leads: true },
  3000,
)
watch(days, refresh)
const series = computed(() => [
  { label: 'Qualified at some time', role: 'spruce', values: data.value!.byDay.map(d => d.qualified) },
  { label: 'Others', role: 'rule', values: data.value!.byDay.map(d => d.leads - d.qualified) },
])
const said = computed(() => {
  const sum = (what: 'leads' | 'qualified') => data.value!.byDay.reduce((n, d) => n + d[what], 0)
  return `New leads by day: ${sum('leads')} in ${data.value!.byDay.length} days, ${sum('qualified')} of them qualified at some time.`
})
/** The bars of a table share one scale, so that they can be compared. */
const full = (rows: YieldView[], rate: 'qualifiedRate' | 'wonRate') =>
  Math.max(0.05, ...rows.filter(r => !r[rate].tooFew).map(r => r[rate].high))
const tables = computed(() =>
  data.value
    ? [
        { title: 'By form', what: 'Form', by: 'firstPoint', rows: data.value.points },
        { title: 'By source', what: 'Source', by: 'firstSource', rows: data.value.sources },
      ]
    : [],
)
/** The people behind a figure. */
const people = (by: string, key: string, more: Record<string, string> = {}) => ({
  path: '/follow-up',
  query: { [by]: key, came: String(days.value), ...more },
})
const ofSpan = computed(() => SPANS.find(s => s.n === days.value)!.name.toLowerCase())
</script>

<template>
  <div class="page">
    <StageViews :views="LEARN_VIEWS" called="Learn" />
    <div class="head">
      <h1>What became of them</h1>
      <div class="spans" role="group" aria-label="Of how long">
        <Button
          v-for="span in SPANS"
          :key="span.n"
          :label="span.name"
          size="small"
          :variant="days === span.n ? 'outlined' : 'text'"
          :aria-pressed="days === span.n"
          @click="days = span.n"
        />
      </div>
    </div>
    <p v-if="problem" role="alert" class="brick">{{ problem.message }}</p>
    <template v-if="data">
      <DayChart :days="data.byDay.map(d => d.day)" :series="series" stacked :said="said" />
      <section v-for="table in tables" :key="table.title">
        <h2>{{ table.title }}</h2>
        <p class="faded small">Of the leads that came in the last {{ ofSpan.replace('a year', 'year') }}, each counts where they came from
          first. What is won is won still. The bar is where the true rate lies in 19 of 20 such samples (Wilson interval), the dot is what
          we saw.</p>
        <div class="scroll" tabindex="0" role="region" :aria-label="table.title">
          <table class="figures">
            <thead>
              <tr>
                <th>{{ table.what }}</th>
                <th class="n">New leads</th>
                <th class="n">Qualified</th>
                <th>Share that qualified<RateAxis :full="full(table.rows, 'qualifiedRate')" /></th>
                <th class="n">Won</th>
                <th>Share won<RateAxis :full="full(table.rows, 'wonRate')" /></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in table.rows" :key="row.key">
                <td>{{ row.name }}</td><td class="n"><NuxtLink :to="people(table.by, row.key)">{{ row.leads }}</NuxtLink></td>
                <td class="n">
                  <NuxtLink v-if="row.qualified" :to="people(table.by, row.key, { ever: 'qualified' })">{{ row.qualified }}</NuxtLink>
                  <template v-else>0</template>
                </td>
                <td class="share">
                  <RateBar :value="row.qualifiedRate" :hits="row.qualified" :trials="row.leads" :full="full(table.rows, 'qualifiedRate')" />
                </td>
                <td class="n">
                  <NuxtLink v-if="row.won" :to="people(table.by, row.key, { stage: 'won' })">{{ row.won }}</NuxtLink>
                  <template v-else>0</template>
                </td>
                <td class="share">
                  <RateBar :value="row.wonRate" :hits="row.won" :trials="row.leads" :full="full(table.rows, 'wonRate')" />
                </td>
              </tr>
              <tr v-if="!table.rows.length"><td colspan="6" class="faded">Nobody came in this time.</td></tr>
            </tbody>
          </table>
        </div>
      </section>
    </template>
  </div>
</template>

<style scoped>
.spans { display: flex; gap: 4px; }
section { margin-top: 22px; }
.scroll { margin-top: 6px; }
table { min-width: 700px; }
td, th { padding: 7px 14px 7px 0; border-bottom: 1px solid var(--rule); }
.share { width: 30%; }
</style>

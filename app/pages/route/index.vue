<script setup lang="ts">
import { whoseTurn } from '#core/routing/turns'
import type { RouteView } from '#core/team'

useHead({ title: 'Route – Cavlin' })
const house = useHouse()
const inWords = useConditionWords()
const { data, problem } = useLiveQuery(() => api<RouteView>('/api/team/route'), { leads: true, colleagues: true }, 800)
const lanes = computed(() => data.value?.plan?.definition.lanes.map((lane) => {
  const given = new Map(data.value!.turns.filter(t => t.lane === lane.key).map(t => [t.memberId, t]))
  const present = lane.pool.filter(id => house.words!.members.some(m => m.id === id))
  const next = whoseTurn(present, new Map([...given].map(([id, t]) => [id, t.given])))
  return { ...lane, seats: lane.pool.map(id => ({ id, name: house.memberName(id), given: given.get(id)?.given ?? 0, last: given.get(id)?.lastAt ?? null, next: id === next })) }
}) ?? [])
const loads = computed(() => (data.value?.loads ?? []).map(l => ({ ...l, name: house.memberName(l.memberId) })).sort((a, b) => b.open - a.open))
const mostOpen = computed(() => Math.max(1, ...loads.value.map(l => l.open)))
</script>

<template>
  <div class="page">
    <div class="head"><h1>Routing plan</h1><span v-if="data?.plan" class="faded">Edition {{ data.plan.number }}, live since {{ ago(data.plan.madeAt) }}</span></div>
    <p v-if="problem" role="alert" class="brick">{{ problem.message }}</p>
    <div v-if="data && !data.plan" class="sheet empty"><h2>No plan is live</h2><p class="faded">Until one is, leads come in without an owner, and nobody is told.</p></div>
    <div v-else-if="data" class="two">
      <section aria-label="Lanes">
        <p class="faded">From the top; the first lane that fits takes the lead. Whoever in its pool has been given fewest is next.</p>
        <ol>
          <li v-for="(lane, i) in lanes" :key="lane.key" class="sheet lane">
            <h2>{{ lane.name }}</h2>
            <p class="faded small">{{ lane.when ? inWords(lane.when) : i === lanes.length - 1 ? 'Everybody who is left' : 'Always' }}</p>
            <table class="figures">
              <thead><tr><th>Pool</th><th class="n">Given</th><th>Last</th><th><span class="unseen">Turn</span></th></tr></thead>
              <tbody><tr v-for="seat in lane.seats" :key="seat.id"><td>{{ seat.name }}</td><td class="n">{{ seat.given }}</td><td>{{ seat.last ? ago(seat.last) : 'never' }}</td><td><span v-if="seat.next" class="next">next</span></td></tr></tbody>
            </table>
          </li>
        </ol>
      </section>
      <section>
        <h2 id="loads">What each has in hand</h2>
        <div class="scroll" tabindex="0" role="region" aria-label="What each has in hand">
<table class="figures">
          <thead><tr><th>Owner</th><th>Open leads</th><th class="n">Waiting</th><th class="n">New in 7 days</th></tr></thead>
          <tbody>
            <tr v-for="load in loads" :key="load.memberId">
              <td>{{ load.name }}</td>
              <td><NuxtLink :to="{ path: '/follow-up', query: { owner: load.memberId, status: house.words!.statuses.filter(s => ['first', 'open'].includes(s.stage)).map(s => s.key) } }" class="bar"><span class="fill" :style="{ width: `${60 * load.open / mostOpen}%` }" />{{ load.open }}</NuxtLink></td>
              <td class="n"><NuxtLink :to="{ path: '/follow-up', query: { owner: load.memberId, waiting: 'true', sort: 'waiting', order: 'up' } }">{{ load.waiting }}</NuxtLink><br><span v-if="load.oldestWaiting" class="faded small">since {{ ago(load.oldestWaiting) }}</span></td>
              <td class="n">{{ load.week }}</td>
            </tr>
          </tbody>
        </table>
</div>
      </section>
    </div>
  </div>
</template>

<style scoped>
ol { list-style: none; margin: 12px 0 0; padding: 0; }
.lane { padding: 12px 16px; margin-bottom: -1px; }
table { margin-top: 6px; }
td, th { padding: 6px 10px 6px 0; border-top: 1px solid var(--rule); vertical-align: top; }
th { border-top: 0; }
.next { border-bottom: 2px solid var(--spruce); font-size: 13px; }
.bar { display: flex; align-items: center; gap: 8px; }
.fill { display: inline-block; height: 8px; background: var(--slate); flex: none; }
</style>

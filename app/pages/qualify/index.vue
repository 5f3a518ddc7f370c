<script setup lang="ts">
import type { QualifyView } from '#core/team'

useHead({ title: 'Qualify – Cavlin' })
const house = useHouse()
const inWords = useConditionWords()
const { data, problem } = useLiveQuery(() => api<QualifyView>('/api/team/qualify'), { leads: true, segments: true, lists: true, properties: true }, 1500)
const label = ref<string | null | undefined>()
const card = computed(() => data.value?.scorecard?.definition ?? null)
const rows = computed(() => [...house.words!.labels].reverse().map(l => ({
  ...l, leads: data.value?.counts.find(c => c.label === l.key)?.leads ?? 0, rule: card.value?.labels.find(r => r.label === l.key),
})))
</script>

<template>
  <div class="page">
    <StageViews :views="QUALIFY_VIEWS" called="Qualify" />
    <div class="head"><h1>Scorecard</h1><span v-if="data?.scorecard" class="faded">Edition {{ data.scorecard.number }}, live since {{ ago(data.scorecard.madeAt) }}</span></div>
    <p v-if="problem" role="alert" class="brick">{{ problem.message }}</p>
    <div v-if="data && !card" class="sheet empty"><h2>No scorecard is live</h2><p class="faded">Until one is, leads carry only the labels that forms give them.</p></div>
    <template v-else-if="data && card">
      <div class="two">
        <LeadMap :leads="data.leads" :label="label" />
        <div class="scroll" tabindex="0" role="region" aria-label="Labels">
<table class="figures labels">
          <caption class="unseen">Labels, what they ask for, and how many open leads carry them</caption>
          <thead><tr><th>Label</th><th class="n">Fit from</th><th class="n">Interest from</th><th class="n">Answer within</th><th class="n">Open leads</th></tr></thead>
          <tbody>
            <tr v-for="row in rows" :key="row.key" :class="{ chosen: label === row.key }" @mouseenter="label = row.key" @mouseleave="label = undefined">
              <td><LabelMark :label="row.key" /></td><td class="n">{{ row.rule && row.rule.fit > -1000 ? row.rule.fit : 'any' }}</td><td class="n">{{ row.rule?.interest ?? '–' }}</td>
              <td class="n">{{ workingTime(row.responseTarget, house.dayHours) }}</td>
              <td class="n"><NuxtLink :to="{ path: '/follow-up', query: { label: row.key, status: house.words!.statuses.filter(s => ['first', 'open'].includes(s.stage)).map(s => s.key) } }" @focus="label = row.key" @blur="label = undefined">{{ row.leads }}</NuxtLink></td>
            </tr>
          </tbody>
        </table>
</div>
      </div>
      <div class="two rules">
        <section aria-labelledby="fit">
          <h2 id="fit">Fit: who they are</h2>
          <table class="figures"><tbody><tr v-for="rule in card.fit" :key="rule.key"><td>{{ rule.name }}<br><span class="faded small">{{ inWords(rule.when) }}</span></td><td class="n">{{ rule.points > 0 ? '+' : '' }}{{ rule.points }}</td></tr></tbody></table>
        </section>
        <section aria-labelledby="interest">
          <h2 id="interest">Interest: what they did</h2>
          <p class="faded">Worth half after {{ card.halfLifeDays }} days, a quarter after {{ card.halfLifeDays * 2 }}.</p>
          <table class="figures"><tbody><tr v-for="rule in card.interest" :key="rule.key"><td>{{ rule.name }}<br><span class="faded small">{{ { entry: 'An entry', page_view: 'A page, once a day', event: 'An event of the site, once a day' }[rule.on] }}<template v-if="rule.when">: {{ inWords(rule.when) }}</template></span></td><td class="n">{{ rule.points > 0 ? '+' : '' }}{{ rule.points }}</td></tr></tbody></table>
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.rules { margin-top: 24px; }
td, th { padding: 7px 0 7px 12px; border-bottom: 1px solid var(--rule); vertical-align: top; }
td:first-child, th:first-child { padding-left: 6px; }
.n { white-space: nowrap; }
.chosen { background: var(--wash); }
</style>

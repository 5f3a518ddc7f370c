<script setup lang="ts">
import { SENT_BACK_WORDS } from '#core/events/kinds/sent-back'
import type { SentBackLine, SentBackView } from '#core/team'

/** Whom salespeople sent back, by reason, rule and form: where the scorecard promised too much. */
const days = ref(90)
const SPANS = [30, 90, 365].map(value => ({ value, name: `in ${value} days` }))
const { data, problem, refresh } = useLiveQuery(
  () => api<SentBackView>('/api/team/scorecard/sent-back', { query: { days: days.value } }),
  { leads: true },
  10_000,
)
watch(days, refresh)
const chosen = ref<{ says: string; ids: string[] } | null>(null)
const choose = (says: string, ids: string[]) => {
  chosen.value = chosen.value?.says === says ? null : { says, ids }
}
const full = (rows: SentBackLine[]) => Math.max(0.05, ...rows.filter(r => !r.rate.tooFew).map(r => r.rate.high))
const tables = computed(() =>
  data.value
    ? [
        { title: 'By rule', what: 'Rule', rows: data.value.byRule },
        { title: 'By form', what: 'Form of their last entry', rows: data.value.byPoint },
      ]
    : [],
)
</script>

<template>
  <section aria-labelledby="sent-back">
    <div class="head">
      <h2 id="sent-back">Sent back</h2>
      <Select v-model="days" :options="SPANS" option-label="name" option-value="value" size="small" aria-label="Of how long" />
    </div>
    <p v-if="problem" role="alert" class="brick">{{ problem.message }}</p>
    <template v-if="data">
      <p v-if="!data.total" class="faded">Nobody was sent back in this time. Whoever finds that a lead is not worth their time yet says so
        on its page.</p>
      <p v-else class="faded">
        <button type="button" class="link" @click="choose('Sent back', [...new Set(data.byWhy.flatMap(w => w.leads))])">
          {{ count(data.total, 'lead', 'leads') }}
        </button>,
        of {{ data.given }} who were given to somebody.
        <template v-for="(w, i) in data.byWhy" :key="w.key">
          {{ i ? ', ' : '' }}<button type="button" class="link" @click="choose(SENT_BACK_WORDS[w.key], w.leads)">
            {{ SENT_BACK_WORDS[w.key] }}: {{ w.leads.length }}
          </button>
        </template>.</p>
      <LeadsBehind v-if="chosen" :ids="chosen.ids" :says="chosen.says" />
      <template v-for="t in data.total ? tables : []" :key="t.title">
        <div v-if="t.rows.length" class="scroll" tabindex="0" role="region" :aria-label="`Sent back, ${t.title.toLowerCase()}`">
          <table class="figures">
            <thead>
              <tr>
                <th scope="col">{{ t.what }}</th>
                <th scope="col" class="n">Sent back</th>
                <th scope="col" class="n">Given</th>
                <th scope="col">Share sent back<RateAxis :full="full(t.rows)" /></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in t.rows" :key="row.key">
                <th scope="row">{{ row.name }}</th>
                <td class="n">
                  <button
                    type="button"
                    class="link"
                    :aria-label="`${row.name}: ${row.leads.length} sent back`"
                    @click="choose(row.name, row.leads)"
                  >
                    {{ row.leads.length }}
                  </button>
                </td>
                <td class="n">{{ row.given }}</td>
                <td class="rate"><RateBar :value="row.rate" :hits="row.leads.length" :trials="row.given" :full="full(t.rows)" /></td>
              </tr>
            </tbody>
          </table>
        </div>
      </template>
    </template>
  </section>
</template>

<style scoped>
section { margin-top: 28px; display: grid; gap: 10px; } .head { display: flex; gap: 14px; align-items: baseline; }
table { min-width: 620px; } td, th { padding: 6px 14px 6px 0; border-bottom: 1px solid var(--rule); } th[scope=row] { text-align: left; font-weight: 400; } .n { text-align: right; } .rate { width: 40%; }
.link { all: unset; cursor: pointer; color: var(--spruce); text-decoration: underline; line-height: 24px; } .link:focus-visible { outline: 2px solid var(--spruce); outline-offset: 2px; }
</style>

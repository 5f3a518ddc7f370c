<script setup lang="ts">
import type { PointDefinition } from '#core/points/definition'
import { chosenShares } from '#core/quiz/chosen'
import type { ResultsView } from '#core/team'

/** How often each result comes up, before anything is live: its share as a length, ties hatched, "never" in words; and which question decides. */
const props = defineProps<{ id: string; definition: PointDefinition }>()
const emit = defineEmits<{ choose: [key: string] }>()
/** As people really chose, where enough have answered; else each choice is as likely as any other. */
const really = ref(false)
const { data: results } = useLiveQuery(
  async () => {
    const days = (ago: number) => new Date(Date.now() - ago * 86_400_000).toISOString().slice(0, 10)
    return api<ResultsView>(`/api/team/points/${props.id}/results`, {
      method: 'POST',
      body: { groups: [{ from: days(365), to: days(0) }] },
    })
  },
  { points: [props.id] },
  5000,
)
const shares = computed(() => chosenShares(props.definition.questions, results.value?.groups[0]?.answers ?? []))
const { balance, working, failed } = useBalance(
  computed(() => props.definition),
  computed(() => (really.value && shares.value.size ? shares.value : null)),
)
const titles = computed(() => new Map(props.definition.quiz!.results.map(r => [r.key, r.title || r.key])))
const labels = computed(() => new Map(props.definition.questions.map(q => [q.key, q.label || q.key])))
const rows = computed(() => balance.value?.results.filter(r => titles.value.has(r.key)) ?? [])
const most = computed(() => Math.max(0.01, ...rows.value.map(r => r.share)))
const ways = computed(() => {
  const n = balance.value?.ways ?? 0
  return n < 1e6
    ? Math.round(n).toLocaleString('en-GB')
    : n < 1e15
      ? `${Number((n / 1e6).toPrecision(3)).toLocaleString('en-GB')} million`
      : `about 10 to the power of ${Math.round(Math.log10(n))}`
})
const how = computed(() => {
  const b = balance.value
  if (!b) return ''
  if (b.how === 'exact')
    return `Worked out over all ${ways.value} ways of answering, ${really.value && shares.value.size ? 'each choice as likely as it was really chosen in the last year' : 'each choice as likely as any other'}.`
  return `${b.looked!.toLocaleString('en-GB')} ways drawn by lot, of ${ways.value}; each share is right within ${(100 * b.error).toFixed(1)} points.`
})
const share = (x: number) => (x > 0 && x < 0.001 ? 'under 0.1%' : `${(100 * x).toFixed(x < 0.1 ? 1 : 0)}%`)
const never = (r: { never: boolean }) =>
  !r.never ? '' : balance.value!.how === 'exact' ? 'never comes up' : `not seen in ${balance.value!.looked!.toLocaleString('en-GB')} ways`
const deciding = computed(() =>
  [...(balance.value?.questions ?? [])].filter(q => labels.value.has(q.key)).sort((a, b) => b.decides - a.decides),
)
/** What is said of a question beside how often it decides. */
function said(q: { asked: number; idle: boolean }): string {
  if (q.asked === 0) return balance.value!.how === 'exact' ? 'nobody comes to it' : 'nobody came to it'
  if (q.idle) return 'its answers change nothing'
  return q.asked < 0.999 ? `asked on ${share(q.asked)} of ways` : ''
}
</script>

<template>
  <section class="balance" aria-labelledby="balance-title" :aria-busy="working">
    <h2 id="balance-title">Balance</h2>
    <label v-if="shares.size" class="tick"><Checkbox v-model="really" binary input-id="really-chosen" /> As people really choose ({{
        count(results!.groups[0]!.all.sent, 'entry', 'entries')
      }})</label>
    <p class="faded small" aria-live="polite">
      {{ failed ? 'The balance could not be worked out. Change something, or load the page again.' : working ? 'Working it out …' : how }}
    </p>
    <table v-if="rows.length" class="figures">
      <thead class="unseen">
        <tr>
          <th>Result</th>
          <th>Share</th>
          <th>How often</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.key">
          <th scope="row">{{ titles.get(r.key) }}</th>
          <td class="strip">
            <span class="share" :style="{ width: `${(100 * r.share) / most}%` }">
              <span
                v-if="r.tied > 0"
                v-tooltip.top="`${share(r.tied)} by a tie, which the order of the outcomes decides`"
                class="tied"
                :style="{ width: `${(100 * r.tied) / r.share}%` }"
              />
            </span>
          </td>
          <td class="n">
            <span v-if="never(r)" class="brick">{{ never(r) }}</span>
            <template v-else>{{ share(r.share) }}<span v-if="r.tied > 0" class="faded small">{{ share(r.tied) }} by a tie</span></template>
          </td>
        </tr>
      </tbody>
    </table>
    <template v-if="deciding.length">
      <h3>Which question decides</h3>
      <p class="faded small">How often another answer to it, by lot, leads to another result.</p>
      <table class="figures">
        <thead class="unseen">
          <tr>
            <th>Question</th>
            <th>Share</th>
            <th>How often</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="q in deciding" :key="q.key">
            <th scope="row">
              <button type="button" class="link" @click="emit('choose', q.key)">{{ labels.get(q.key) }}</button>
            </th>
            <td class="strip"><span class="share plain" :style="{ width: `${100 * q.decides}%` }" /></td>
            <td class="n">
              {{ share(q.decides)
              }}<span v-if="said(q)" class="small" :class="q.asked === 0 || q.idle ? 'brick' : 'faded'"> {{ said(q) }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.balance {
  display: grid;
  gap: 4px;
  margin-top: 22px;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
}
h3 {
  margin-top: 14px;
  font-size: 15px;
}
table {
  width: 100%;
  table-layout: fixed;
  border-collapse: collapse;
}
th {
  width: 34%;
  padding: 5px 12px 5px 0;
  font-weight: 400;
  text-align: left;
  overflow-wrap: anywhere;
  vertical-align: top;
  border-bottom: 1px solid var(--rule);
}
td {
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
}
.n {
  width: 30%;
  text-align: right;
}
.n .small {
  display: block;
}
.strip {
  padding-right: 12px;
}
.share {
  display: block;
  height: 12px;
  margin-top: 5px;
  min-width: 1px;
  background: var(--spruce);
}
.share.plain {
  background: var(--slate, #3d5f80);
}
.tied {
  display: block;
  height: 100%;
  background: repeating-linear-gradient(135deg, var(--paper) 0 2px, var(--spruce) 2px 5px);
}
.link {
  padding: 0;
  border: 0;
  background: none;
  color: var(--spruce);
  font: inherit;
  text-align: left;
  text-decoration: underline;
  cursor: pointer;
}
</style>

<script setup lang="ts">
import type { ProofView } from '#core/team'
import type { RuleProof, Share } from '#core/scoring/proof'
const views = useQualifyViews()

/** Whether the scorecard told the truth: who reached a goal, by score, by label and by rule, each with its doubt. */
useHead({ title: 'Proof – Cavlin' })
const house = useHouse()
const goal = ref('won')
const days = ref(7)
const span = ref(365)
const goals = computed(() => [
  { value: 'won', text: 'Won' },
  ...house
    .words!.statuses.filter(s => s.stage !== 'first' && s.stage !== 'won')
    .map(s => ({ value: s.key, text: `Had the status “${s.name}”` })),
])
const DAYS = [0, 1, 7, 14, 30].map(n => ({
  value: n,
  text: n === 0 ? 'at once' : n === 1 ? 'a day after they came' : `${n} days after they came`,
}))
const SPANS = [90, 180, 365, 1095].map(n => ({ value: n, text: n === 1095 ? 'in three years' : n === 365 ? 'in a year' : `in ${n} days` }))
const data = shallowRef<ProofView | null>(null)
const problem = ref('')
const fetching = ref(false)
let turn = 0
async function fetchProof(): Promise<void> {
  const mine = ++turn
  fetching.value = true
  try {
    const came = await api<ProofView>('/api/team/scorecard/proof', { query: { goal: goal.value, days: days.value, span: span.value } })
    if (mine === turn) {
      data.value = came
      problem.value = ''
    }
  } catch (error) {
    if (mine === turn) problem.value = (error as Error).message
  } finally {
    if (mine === turn) fetching.value = false
  }
}
watch([goal, days, span], () => void fetchProof(), { immediate: true })
const goalText = computed(() => (goal.value === 'won' ? 'were won' : `had the status “${house.statusName(goal.value)}”`))
const bandText = ({ from, to }: { from: number | null; to: number | null }) =>
  from === null ? 'below 0' : to === null ? `${from} and more` : `${from} to ${to}`
const full = (rows: Share[]) => Math.max(0.05, ...rows.filter(r => !r.rate.tooFew).map(r => r.rate.high))
const n = (x: number) => x.toLocaleString('en')
const share = (x: number) => x.toFixed(2)
const times = (x: number) => (x >= 10 ? Math.round(x).toString() : x.toFixed(1))
const liftText = ({ lift }: RuleProof) =>
  lift.tooFew ? 'too few to tell' : `${times(lift.ratio)} times as often (${times(lift.low)} to ${times(lift.high)})`
const VERDICTS = { earns: 'earns its points', misleads: 'misleads', unsure: 'cannot be told' }
const rules = computed(() =>
  [...(data.value?.rules ?? [])].sort((a, b) => ORDER[a.verdict] - ORDER[b.verdict] || b.with.people - a.with.people),
)
const ORDER = { misleads: 0, earns: 1, unsure: 2 }
const top = computed(() => data.value?.gains.find(g => g.share === 0.2)?.captured ?? 0)
const areaText = computed(() => {
  const area = data.value?.area
  if (!area) return ''
  return `Of two people, one who got there and one who did not, the score puts the right one first in ${Math.round(100 * area.area)} of 100 cases (${Math.round(100 * area.low)} to ${Math.round(100 * area.high)}); 50 would be chance.`
})
const gainTable = computed(() => (data.value?.gains ?? []).filter(g => Math.round(g.share * 20) % 2 === 0 && g.share > 0))
</script>

<template>
  <div class="page">
    <StageViews :views="views" called="Qualify" />
    <div class="head">
      <h1>Proof</h1>
      <div class="asks">
        <label id="goal-of">Goal</label>
        <Select v-model="goal" :options="goals" option-label="text" option-value="value" size="small" aria-labelledby="goal-of" />
        <label id="days-of">scored</label>
        <Select v-model="days" :options="DAYS" option-label="text" option-value="value" size="small" aria-labelledby="days-of" />
        <label id="span-of">who came</label>
        <Select v-model="span" :options="SPANS" option-label="text" option-value="value" size="small" aria-labelledby="span-of" />
      </div>
    </div>
    <p v-if="problem" role="alert" class="banner">{{ problem }}</p>
    <p v-if="!data && fetching" class="faded">Counting …</p>
    <template v-if="data">
      <p role="status">
        <b>{{ n(data.whole.reached) }}</b> of {{ n(data.whole.people) }} people {{ goalText }}.
        <template v-if="data.young">
          {{ n(data.young) }} came too lately to tell: nine in ten take up to {{ count(data.within, 'day', 'days') }}, and whoever is
          younger is left out.
        </template>
        <template v-if="data.early"> {{ n(data.early) }} got there before they were scored, and are left out, too.</template>
        <template v-if="data.cards.length > 1">
          They were scored by
          {{ data.cards.map(c => `edition ${c.number} (${n(c.leads)})`).join(', ') }}.
        </template>
      </p>
      <p v-if="!data.whole.people" class="banner">
        Nobody is old enough to tell yet. Come back when those who came lately have had the time they take.
      </p>
      <template v-else>
        <div class="two">
          <section aria-labelledby="gain">
            <h2 id="gain">Does the score find them?</h2>
            <template v-if="data.area">
              <p>{{ areaText }} The best fifth by score holds {{ Math.round(100 * top) }}% of them.</p>
              <ScoringGainCurve
                :curves="[{ name: 'By score', role: 'spruce', gains: data.gains }]"
                :said="`The best fifth by score holds ${Math.round(100 * top)}% of those who ${goalText}. The table below has the figures.`"
              />
              <details>
                <summary>The same as a table</summary>
                <table class="figures">
                  <thead>
                    <tr>
                      <th scope="col">The best by score</th>
                      <th scope="col" class="n">hold</th>
                    </tr>
                  </thead>
                  <tbody>
                    <tr v-for="g in gainTable" :key="g.share">
                      <td>{{ Math.round(100 * g.share) }}%</td>
                      <td class="n">{{ Math.round(100 * g.captured) }}%</td>
                    </tr>
                  </tbody>
                </table>
                <p class="faded small">
                  Area under the curve of true against false alarms: {{ share(data.area.area) }} ({{ share(data.area.low) }} to
                  {{ share(data.area.high) }}, DeLong).
                </p>
              </details>
            </template>
            <p v-else class="faded">Too few got there, or too few did not, to say anything.</p>
          </section>
          <section aria-labelledby="bands">
            <h2 id="bands">By score</h2>
            <p class="faded small">
              Fit and interest together. The bar is where the true share lies in 19 of 20 such samples, the dot is what we saw.
            </p>
            <div class="scroll" tabindex="0" role="region" aria-label="Shares by score">
              <table class="figures shares">
                <thead>
                  <tr>
                    <th scope="col">Score</th>
                    <th scope="col" class="n">People</th>
                    <th scope="col">of them got there</th>
                  </tr>
                </thead>
                <tbody>
                  <tr v-for="b in data.bands" :key="String(b.from)">
                    <td>{{ bandText(b) }}</td>
                    <td class="n">{{ n(b.people) }}</td>
                    <td class="share"><RateBar :value="b.rate" :hits="b.reached" :trials="b.people" :full="full(data.bands)" /></td>
                  </tr>
                </tbody>
              </table>
            </div>
            <h2 class="lower">By label</h2>
            <div class="scroll" tabindex="0" role="region" aria-label="Shares by label">
              <table class="figures shares">
                <thead>
                  <tr>
                    <th scope="col">Label then</th>
                    <th scope="col" class="n">People</th>
                    <th scope="col">of them got there</th>
                  </tr>
                </thead>
                <tbody>
                  <tr v-for="l in data.labels" :key="String(l.label)">
                    <td><LabelMark :label="l.label" /></td>
                    <td class="n">{{ n(l.people) }}</td>
                    <td class="share"><RateBar :value="l.rate" :hits="l.reached" :trials="l.people" :full="full(data.labels)" /></td>
                  </tr>
                </tbody>
              </table>
            </div>
          </section>
        </div>
        <section aria-labelledby="rules" class="lower">
          <h2 id="rules">Which rules earn their points</h2>
          <p class="faded small">
            Those whom a rule gave points by then, against all others; of fit, by what is known today. It is counted, not proven: what goes
            together need not come of each other.
          </p>
          <div class="scroll" tabindex="0" role="region" aria-label="Rules and what they are worth">
            <table class="figures">
              <thead>
                <tr>
                  <th scope="col">Rule</th>
                  <th scope="col" class="n">Points</th>
                  <th scope="col" class="n">People</th>
                  <th scope="col">They got there</th>
                  <th scope="col">It</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="r in rules" :key="r.axis + r.rule">
                  <td>
                    {{ r.name }} <span class="faded small">{{ r.axis }}</span>
                  </td>
                  <td class="n">{{ r.points }}</td>
                  <td class="n">{{ n(r.with.people) }}</td>
                  <td>{{ liftText(r) }}</td>
                  <td :class="{ brick: r.verdict === 'misleads', faded: r.verdict === 'unsure' }">{{ VERDICTS[r.verdict] }}</td>
                </tr>
              </tbody>
            </table>
          </div>
        </section>
      </template>
    </template>
    <ScoringSentBack />
  </div>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: center;
}
.asks {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
}
.lower {
  margin-top: 24px;
}
details {
  margin-top: 8px;
}
td,
th {
  padding: 6px 0 6px 12px;
  border-bottom: 1px solid var(--rule);
  text-align: left;
}
td:first-child,
th:first-child {
  padding-left: 6px;
  white-space: nowrap;
}
.n {
  text-align: right;
}
.shares {
  width: 100%;
}
.share {
  width: 60%;
  padding-left: 16px;
}
</style>

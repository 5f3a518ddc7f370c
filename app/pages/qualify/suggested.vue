<script setup lang="ts">
import type { ComparedCard, ScorecardView, SuggestionView } from '#core/team'
const views = useQualifyViews()

/** A scorecard that Cavlin learns from what became of leads. It never applies itself: it may be taken as the working copy. */
useHead({ title: 'Suggested card – Cavlin' })
const house = useHouse()
const session = useSession()
const { done } = useToasts()
const mayEdit = computed(() => session.may('edit scorecard'))
const { data, refresh } = useLiveQuery(
  () => api<{ suggestion: SuggestionView | null }>('/api/team/scorecard/suggestion'),
  { dryRun: true, scorecard: true },
  400,
)
const job = computed(() => data.value?.suggestion ?? null)
const isUnderWay = computed(() => job.value !== null && ['waiting', 'working'].includes(job.value.state))
const problem = ref('')
const goal = ref('won')
const goals = computed(() => [
  { value: 'won', text: 'Won' },
  ...house
    .words!.statuses.filter(s => s.stage !== 'first' && s.stage !== 'won')
    .map(s => ({ value: s.key, text: `Had the status “${s.name}”` })),
])
const segment = ref('all')
const whose = computed(() => [
  { value: 'all', text: 'all leads' },
  ...house.words!.segments.map(s => ({ value: s.id, text: `the segment “${s.name}”` })),
])
const most = ref(20)
const sensitive = ref(false)
const asking = ref(false)
const say = (error: unknown) => {
  problem.value = error instanceof ApiError && error.flaws.length ? error.flaws.map(f => f.message).join(' ') : (error as Error).message
}
async function learn(): Promise<void> {
  asking.value = true
  problem.value = ''
  try {
    await api('/api/team/scorecard/suggestion', {
      method: 'POST',
      body: {
        goal: goal.value,
        maxRules: most.value,
        sensitive: sensitive.value,
        ...(segment.value !== 'all' && { segment: segment.value }),
      },
    })
  } catch (error) {
    say(error)
  } finally {
    asking.value = false
    await refresh()
  }
}
const taking = ref(false)
async function take(): Promise<void> {
  taking.value = true
  problem.value = ''
  try {
    const { revision } = await api<ScorecardView>('/api/team/scorecard')
    await api('/api/team/scorecard/suggestion/take', { method: 'POST', body: { revision } })
    done('It is the working copy now. A dry run says what it would mean; nothing is scored by it yet.')
    await navigateTo('/qualify')
  } catch (error) {
    say(error)
  } finally {
    taking.value = false
  }
}
const result = computed(() => job.value?.result ?? null)
const hundredths = (n: number) => Math.round(100 * n)
const areaText = (c: ComparedCard) => `${hundredths(c.auc)} of 100 (${hundredths(c.aucRange[0])} to ${hundredths(c.aucRange[1])})`
const topText = (c: ComparedCard) => `${hundredths(c.topShare.find(t => t.share === 0.2)!.captured)}%`
const cards = computed(() =>
  result.value
    ? [
        { name: 'Suggested', card: result.value.crossValidated },
        ...(result.value.live ? [{ name: 'Live then', card: result.value.live }] : []),
      ]
    : [],
)
const curve = (c: ComparedCard) => [{ share: 0, captured: 0 }, ...c.topShare, { share: 1, captured: 1 }]
const curves = computed(() =>
  cards.value.map(({ name, card }, i) => ({ name, role: i ? 'honey' : 'spruce', ...(i && { dash: [8, 3] }), gains: curve(card) })),
)
const signed = (n: number) => (n > 0 ? `+${n}` : `−${-n}`)
</script>

<template>
  <div class="page">
    <StageViews :views="views" called="Qualify" />
    <div class="head">
      <h1>Suggested card</h1>
      <p class="state" role="status">
        <template v-if="isUnderWay">It is being learned, {{ hundredths(job!.progress) }}%. You may go on with something else.</template>
        <template v-else-if="result">
          Learned {{ ago(job!.madeAt) }}<template v-if="job!.madeBy">, asked for by {{ job!.madeBy }}</template>, from
          {{ result.rows.toLocaleString('en') }} people, {{ result.positives.toLocaleString('en') }} of whom came to it.
        </template>
      </p>
      <Button v-if="mayEdit && result" label="Take it as the working copy" :loading="taking" @click="take" />
    </div>
    <ProgressBar v-if="isUnderWay" :value="hundredths(job!.progress)" aria-label="How far learning has come" />
    <p v-if="problem" role="alert" class="banner">{{ problem }}</p>
    <p v-if="job?.state === 'failed'" role="alert" class="banner">Nothing could be learned. {{ job.problem }}</p>
    <form v-if="mayEdit" class="asks" @submit.prevent="learn">
      <span>Learn who comes to</span>
      <Select v-model="goal" :options="goals" option-label="text" option-value="value" size="small" aria-label="Goal" />
      <span>from</span>
      <Select v-model="segment" :options="whose" option-label="text" option-value="value" size="small" aria-label="Whose leads" />
      <span>with at most</span>
      <ScoringPointsInput v-model="most" :least="1" :most="50" called="Most rules" />
      <span>rules.</span>
      <label class="tick"><Checkbox v-model="sensitive" binary input-id="sensitive" /> Sensitive properties, too</label>
      <Button type="submit" label="Learn" size="small" variant="outlined" :disabled="isUnderWay" :loading="asking" />
    </form>
    <p v-if="mayEdit" class="faded small">
      It looks at what people had answered and done within seven days after they came, and at nothing that was learned of them later. It
      applies to nobody by itself.
    </p>
    <template v-if="result">
      <div class="two">
        <section aria-labelledby="learned">
          <h2 id="learned">What it would give points for</h2>
          <ol class="rules">
            <li v-for="r in result.rules" :key="r.sentence">
              <span>{{ r.sentence }}</span>
              <b class="n">{{ signed(r.points) }}</b>
            </li>
          </ol>
          <p v-if="!result.rules.length" class="faded">Nothing that was asked tells them apart.</p>
          <ul v-if="result.notes.length" class="faded small">
            <li v-for="note in result.notes" :key="note">{{ note }}</li>
          </ul>
        </section>
        <section aria-labelledby="worth">
          <h2 id="worth">Would it find them?</h2>
          <p class="faded small">
            Tried on people it was not learned from: five times, each time without a fifth of them. The card that was live then is judged on
            the same people.
          </p>
          <div class="scroll" tabindex="0" role="region" aria-label="Both cards compared">
            <table class="figures">
              <thead>
                <tr>
                  <th scope="col">Card</th>
                  <th scope="col" class="n">Of two, the right one first</th>
                  <th scope="col" class="n">The best fifth holds</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="c in cards" :key="c.name">
                  <th scope="row">{{ c.name }}</th>
                  <td class="n">{{ areaText(c.card) }}</td>
                  <td class="n">{{ topText(c.card) }}</td>
                </tr>
              </tbody>
            </table>
          </div>
          <ScoringGainCurve
            :curves="curves"
            said="The share of those who came to it among the best by score, by both cards. The table above has the figures."
          />
        </section>
      </div>
    </template>
    <p v-else-if="data && !job" class="banner">
      Nothing has been learned yet. It takes at least 30 people who came to the goal, and 30 who did not.
    </p>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: end;
}
.state {
  flex: 1;
  min-width: 240px;
  margin: 0;
  padding-bottom: 3px;
}
.asks {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
  margin-top: 8px;
}
.tick {
  display: flex;
  gap: 7px;
  align-items: center;
  margin: 0 8px;
}
.rules {
  list-style: none;
  margin: 0 0 10px;
  padding: 0;
}
.rules li {
  display: flex;
  gap: 12px;
  justify-content: space-between;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
}
td,
th {
  padding: 6px 0 6px 12px;
  border-bottom: 1px solid var(--rule);
  text-align: left;
  font-weight: 400;
}
thead th {
  font-weight: 600;
}
td:first-child,
th:first-child {
  padding-left: 6px;
}
.n {
  text-align: right;
  white-space: nowrap;
}
</style>

<script setup lang="ts">
import { setArea } from '#core/scoring/edit'
import type { Scorecard } from '#core/scoring/scorecard'
import type { CrossedLine, QualifyView, RuleUse, ScorecardView, SquareView } from '#core/team'
const views = useQualifyViews()

/** The scorecard: where the open leads stand on it, what each label asks for, and the rules; worked on as a copy until it is made live. */
useHead({ title: 'Qualify – Cavlin' })
const house = useHouse()
const session = useSession()
const mayEdit = computed(() => session.may('edit scorecard'))
const { data } = useLiveQuery(
  () => api<QualifyView>('/api/team/qualify'),
  { leads: true, segments: true, lists: true, properties: true, scorecard: true },
  1500,
)
/** Where everybody stands; the more there are, the longer until they are drawn anew. */
const weekAgo = ref(false)
const { data: square, refresh: lookAgain } = useLiveQuery(
  () => api<SquareView>('/api/team/scorecard/square', { query: weekAgo.value ? { since: 7 } : {} }),
  { leads: true, scorecard: true },
  4000,
)
watch(weekAgo, () => void lookAgain())
/** What the rules do: read through all leads, so not with each thing that happens. */
const { data: rules } = useLiveQuery(() => api<{ uses: Record<string, RuleUse> }>('/api/team/scorecard/rules'), { scorecard: true }, 20_000)
/** A rule that is pointed at for a moment lights up its people on the square. */
const pointed = ref<string | null>(null)
const lit = shallowRef<ReadonlySet<string> | null>(null)
let asking: ReturnType<typeof setTimeout> | undefined
watch(pointed, rule => {
  clearTimeout(asking)
  if (rule === null || !rules.value?.uses[rule]) return void (lit.value = null)
  asking = setTimeout(async () => {
    const { ids } = await api<{ ids: string[] }>('/api/team/scorecard/touched', { query: { rule } }).catch(() => ({ ids: [] }))
    if (pointed.value === rule) lit.value = new Set(ids)
  }, 120)
})
const { data: crossed } = useLiveQuery(() => api<{ crossed: CrossedLine[] }>('/api/team/scorecard/crossed'), { leads: true }, 3000)
const edit = useEditing<Scorecard, ScorecardView>({
  at: '/api/team/scorecard',
  hears: { scorecard: true, properties: true, segments: true, lists: true },
})
const { point: view, definition } = edit
useUnsavedGuard(edit, mayEdit)
const label = ref<string | null | undefined>()
const card = computed<Scorecard | null>({
  get: () => definition.value,
  set: next => {
    // Presses of a key that follow each other are one step of undo.
    if (next) definition.value = JSON.parse(JSON.stringify(next)) as Scorecard
  },
})
const order = computed(() => house.words!.labels.map(l => l.key))
const rows = computed(() =>
  [...house.words!.labels].reverse().map(l => ({
    ...l,
    leads: data.value?.counts.find(c => c.label === l.key)?.leads ?? 0,
    rule: card.value?.labels.find(r => r.label === l.key) ?? null,
    checks: view.value?.checks.filter(c => c.place === `labels.${card.value?.labels.findIndex(r => r.label === l.key)}`) ?? [],
  })),
)
const labelling = ref(false)
const NO_FIT = -1000
const area = (key: string, next: { fit: number; interest: number } | null) => {
  card.value = setArea(card.value!, key, next, order.value)
}
function setHalfLife(typed: string): void {
  const days = Number(typed.replace(',', '.'))
  halfLifeFlaw.value = days >= 0.25 && days <= 3650 ? '' : 'From a quarter of a day to 3650 days.'
  if (!halfLifeFlaw.value) card.value = { ...card.value!, halfLifeDays: days }
}
const halfLifeFlaw = ref('')
const went = (number: number) => `Edition ${number} is live. Leads are scored anew in the background.`
const openOf = (key: string) => ({
  path: '/follow-up',
  query: {
    label: key,
    status: house.words!.statuses.filter(s => ['first', 'open'].includes(s.stage)).map(s => s.key),
  },
})
</script>

<template>
  <div class="page">
    <StageViews :views="views" called="Qualify" />
    <EditionHead
      title="Scorecard"
      :edit="edit"
      at="/api/team/scorecard"
      :may-edit="mayEdit"
      none="None is live: leads carry only the labels that forms give them"
      looks="You can look at the scorecard; managers change it."
      :went="went"
    >
      <template #state><span v-if="view?.isTakingEffect">Leads are being scored anew.</span></template>
      <template #acts="{ isReady }">
        <Button
          label="Dry run"
          severity="secondary"
          variant="outlined"
          :disabled="!isReady"
          @click="navigateTo('/qualify/dry-run?begin')"
        />
      </template>
    </EditionHead>
    <template v-if="card">
      <div class="two">
        <div>
          <LeadMap v-if="square" :square="square" :label="label" :lit="lit" :areas="card.labels" :editable="mayEdit" @move="area" />
          <label class="week"><Checkbox v-model="weekAgo" binary input-id="week-ago" /> Where they came from in the last seven days</label>
        </div>
        <div class="scroll" tabindex="0" role="region" aria-label="Labels">
          <table class="figures labels">
            <caption class="unseen">
              Labels, what they ask for, and how many open leads carry them
            </caption>
            <thead>
              <tr>
                <th>Label</th>
                <th class="n">Fit from</th>
                <th class="n">Interest from</th>
                <th class="n">Answer within</th>
                <th class="n">Open leads</th>
              </tr>
            </thead>
            <tbody>
              <tr
                v-for="row in rows"
                :key="row.key"
                :class="{ chosen: label === row.key }"
                @mouseenter="label = row.key"
                @mouseleave="label = undefined"
              >
                <td>
                  <LabelMark :label="row.key" />
                  <p v-for="c in row.checks" :key="c.message" class="small" :class="c.level === 'stop' ? 'brick' : 'honey'">
                    {{ c.message }}
                  </p>
                </td>
                <td class="n">
                  <template v-if="!row.rule">–</template>
                  <template v-else-if="row.rule.fit <= NO_FIT"
                    >
any
                    <Button
                      v-if="mayEdit"
                      label="From 0"
                      size="small"
                      variant="text"
                      :aria-label="`${row.name}: ask for fit`"
                      @click="area(row.key, { ...row.rule, fit: 0 })"
                  />
</template>
                  <ScoringPointsInput
                    v-else
                    :model-value="row.rule.fit"
                    :called="`Fit from, for ${row.name}`"
                    :disabled="!mayEdit"
                    @update:model-value="area(row.key, { ...row.rule!, fit: $event })"
                  />
                </td>
                <td class="n">
                  <ScoringPointsInput
                    v-if="row.rule"
                    :model-value="row.rule.interest"
                    :called="`Interest from, for ${row.name}`"
                    :disabled="!mayEdit"
                    @update:model-value="area(row.key, { ...row.rule!, interest: $event })"
                  />
                  <Button
                    v-else-if="mayEdit"
                    label="Give it an area"
                    size="small"
                    variant="text"
                    :aria-label="`Give ${row.name} an area`"
                    @click="area(row.key, { fit: 50, interest: 50 })"
                  />
                  <template v-else>–</template>
                </td>
                <td class="n">{{ workingTime(row.responseTarget, house.dayHours) }}</td>
                <td class="n">
                  <NuxtLink :to="openOf(row.key)" @focus="label = row.key" @blur="label = undefined">{{ row.leads }}</NuxtLink>
                </td>
              </tr>
            </tbody>
          </table>
          <p v-if="mayEdit || card.margin" class="small margin">
            <span>A label that holds falls</span>
            <ScoringPointsInput
              :model-value="card.margin ?? 0"
              :least="0"
              :most="50"
              called="Points under its line before a label falls"
              :disabled="!mayEdit"
              @update:model-value="card = { ...card!, margin: $event || undefined }"
            />
            <span>points under its line, so that it does not flap.</span>
          </p>
          <Button v-if="mayEdit" label="Names, order and promises …" size="small" variant="text" @click="labelling = true" />
          <ScoringLabelsDialog v-if="mayEdit" v-model:visible="labelling" />
          <template v-if="crossed?.crossed.length">
            <h2 class="lately">Who has just crossed a line</h2>
            <ul class="crossed">
              <li v-for="c in crossed.crossed.slice(0, 6)" :key="c.lead + c.at">
                <NuxtLink :to="`/follow-up/leads/${c.lead}`">{{ c.name }}</NuxtLink>
                <span class="small">{{ house.labelName(c.from) }} → {{ house.labelName(c.to) }}</span>
                <span class="faded small">{{ c.why }}, {{ ago(c.at) }}</span>
              </li>
            </ul>
          </template>
        </div>
      </div>
      <div class="two rules">
        <section aria-labelledby="fit">
          <h2 id="fit">Fit: who they are</h2>
          <p class="faded">Counted once, as long as it holds.</p>
          <ScoringRuleList
            v-model="card"
            axis="fit"
            :checks="view?.checks ?? []"
            :disabled="!mayEdit"
            :uses="rules?.uses ?? {}"
            @point="pointed = $event"
          />
          <ScoringGroupList v-if="mayEdit || card.groups?.length" v-model="card" :disabled="!mayEdit" />
        </section>
        <section aria-labelledby="interest">
          <h2 id="interest">Interest: what they did</h2>
          <p class="faded half">
            <label for="half-life">Worth half after</label>
            <InputText
              id="half-life"
              size="small"
              :model-value="String(card.halfLifeDays)"
              inputmode="decimal"
              maxlength="7"
              :disabled="!mayEdit"
              :invalid="halfLifeFlaw !== ''"
              @change="setHalfLife(($event.target as HTMLInputElement).value)"
            />
            <span>days. A new rule counts what people did before, too, as far as it is kept.</span>
            <span v-if="halfLifeFlaw" class="brick small" role="alert">{{ halfLifeFlaw }}</span>
          </p>
          <ScoringRuleList
            v-model="card"
            axis="interest"
            :checks="view?.checks ?? []"
            :disabled="!mayEdit"
            :uses="rules?.uses ?? {}"
            @point="pointed = $event"
          />
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.rules {
  margin-top: 24px;
}
.week {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 6px;
  font-size: 14px;
}
.margin {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
  margin-top: 8px;
}
.lately {
  margin-top: 16px;
}
.crossed {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
.crossed li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
  align-items: baseline;
  padding: 3px 0 3px 6px;
}
td,
th {
  padding: 7px 0 7px 12px;
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
}
td:first-child,
th:first-child {
  padding-left: 6px;
}
.n {
  white-space: nowrap;
}
.chosen {
  background: var(--wash);
}
.half {
  line-height: 30px;
}
.half :deep(input) {
  width: 4.6rem;
  text-align: right;
}
.half label {
  margin: 0 6px 0 0;
}
.half :deep(input) {
  margin-right: 6px;
}
</style>

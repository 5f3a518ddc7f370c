<script setup lang="ts">
import { Redo2, Undo2 } from 'lucide-vue-next'
import { setArea } from '#core/scoring/edit'
import type { Scorecard } from '#core/scoring/scorecard'
import type { CrossedLine, QualifyView, RuleUse, ScorecardView } from '#core/team'

/** The scorecard: where the open leads stand on it, what each label asks for, and the rules; worked on as a copy until it is made live. */
useHead({ title: 'Qualify – Cavlin' })
const house = useHouse()
const session = useSession()
const { done } = useToasts()
const mayEdit = computed(() => session.may('edit scorecard'))
const { data } = useLiveQuery(
  () => api<QualifyView>('/api/team/qualify'),
  { leads: true, segments: true, lists: true, properties: true, scorecard: true },
  1500,
)
/** What the rules do: read through all leads, so not with each thing that happens. */
const { data: rules } = useLiveQuery(() => api<{ uses: Record<string, RuleUse> }>('/api/team/scorecard/rules'), { scorecard: true }, 20_000)
const { data: crossed } = useLiveQuery(() => api<{ crossed: CrossedLine[] }>('/api/team/scorecard/crossed'), { leads: true }, 3000)
const edit = useEditing<Scorecard, ScorecardView>({ at: '/api/team/scorecard', hears: { scorecard: true, properties: true, segments: true, lists: true } })
const { point: view, definition, state, problem, conflict } = edit
useUnsavedGuard(edit, mayEdit)
const label = ref<string | null | undefined>()
const card = computed<Scorecard | null>({
  get: () => definition.value,
  set: next => {
    // Presses of a key that follow each other are one step of undo.
    if (next) definition.value = JSON.parse(JSON.stringify(next)) as Scorecard
  },
})
/** What differs from what is live. */
const isChanged = computed(() => JSON.stringify(definition.value) !== JSON.stringify(view.value?.live?.definition ?? null))
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
/** Checks are of what was kept last; while something is being saved they may be of a moment before. */
const stops = computed(() => view.value?.checks.filter(c => c.level === 'stop') ?? [])
const whole = computed(() => view.value?.checks.filter(c => c.place === '') ?? [])
watch(state, (now, before) => {
  if (now === 'saved' && before === 'saving') void edit.load()
})
const publishing = ref(false)
async function makeLive(): Promise<void> {
  publishing.value = true
  try {
    await edit.publish()
    if (view.value?.live) done(`Edition ${view.value.live.number} is live. Leads are scored anew in the background.`)
  } catch (error) {
    problem.value = error instanceof ApiError && error.flaws.length ? error.flaws.map(f => f.message).join(' ') : (error as Error).message
    await edit.load()
  } finally {
    publishing.value = false
  }
}
/** An earlier edition becomes the working copy, as one step that can be undone. */
async function goBack(number: number): Promise<void> {
  try {
    const earlier = await api<{ definition: Scorecard }>(`/api/team/scorecard/editions/${number}`)
    edit.replace(earlier.definition)
    done(`This is edition ${number} again. Make it live when it is right.`)
  } catch (error) {
    problem.value = (error as Error).message
  }
}
const editions = computed(() => view.value?.editions.slice(isChanged.value ? 0 : 1).map(e => ({ value: e.number, text: `Edition ${e.number}, ${ago(e.madeAt)}${e.madeBy ? `, by ${e.madeBy}` : ''}` })) ?? [])
const STATES: Record<string, string> = { saved: 'All saved', changed: 'Saving …', saving: 'Saving …', failed: 'Not saved', fetching: '', missing: '' }
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
    <StageViews :views="QUALIFY_VIEWS" called="Qualify" />
    <div class="head">
      <h1>Scorecard</h1>
      <p v-if="view" class="state" role="status">
        <span
          ><template v-if="view.live">Edition {{ view.live.number }}, live since {{ ago(view.live.madeAt) }}</template
          ><template v-else>None is live: leads carry only the labels that forms give them</template
          ><template v-if="view.live && isChanged">, <b class="honey">what you see here is not live yet</b></template>.</span
        >
        <span v-if="view.isTakingEffect">Leads are being scored anew.</span>
        <span v-if="mayEdit && view.revision" :class="state === 'failed' ? 'brick' : 'faded'">{{ STATES[state] }}</span>
      </p>
      <div v-if="mayEdit && card" class="acts">
        <Button variant="text" severity="secondary" aria-label="Undo" :disabled="!edit.mayUndo.value" @click="edit.undo()"
          >
<Undo2 :size="17" aria-hidden="true"
        />
</Button>
        <Button variant="text" severity="secondary" aria-label="Redo" :disabled="!edit.mayRedo.value" @click="edit.redo()"
          >
<Redo2 :size="17" aria-hidden="true"
        />
</Button>
        <Select
          v-if="editions.length"
          :model-value="null"
          :options="editions"
          option-label="text"
          option-value="value"
          placeholder="Go back to …"
          size="small"
          aria-label="Go back to an edition"
          @update:model-value="goBack"
        />
        <Button
          label="Dry run"
          severity="secondary"
          variant="outlined"
          :disabled="!isChanged || stops.length > 0 || state !== 'saved'"
          @click="navigateTo('/qualify/dry-run?begin')"
        />
        <Button label="Make it live" :disabled="!isChanged || stops.length > 0 || state !== 'saved'" :loading="publishing" @click="makeLive" />
      </div>
    </div>
    <p v-if="problem" role="alert" class="banner">{{ problem }}</p>
    <p v-if="conflict" role="alert" class="banner">
      {{ conflict }} <Button label="I have seen it" size="small" variant="text" @click="conflict = ''" />
    </p>
    <p v-if="view && !mayEdit" class="banner">You can look at the scorecard; managers change it.</p>
    <ul v-if="whole.length" class="whole">
      <li v-for="c in whole" :key="c.message" :class="c.level === 'stop' ? 'brick' : 'honey'">{{ c.message }}</li>
    </ul>
    <template v-if="card">
      <div class="two">
        <LeadMap :leads="data?.leads ?? []" :label="label" :areas="card.labels" :editable="mayEdit" @move="area" />
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
                  <p v-for="c in row.checks" :key="c.message" class="small" :class="c.level === 'stop' ? 'brick' : 'honey'">{{ c.message }}</p>
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
          <ScoringRuleList v-model="card" axis="fit" :checks="view?.checks ?? []" :disabled="!mayEdit" :uses="rules?.uses ?? {}" />
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
          <ScoringRuleList v-model="card" axis="interest" :checks="view?.checks ?? []" :disabled="!mayEdit" :uses="rules?.uses ?? {}" />
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: end;
}
.state {
  display: flex;
  flex: 1;
  flex-wrap: wrap;
  gap: 2px 12px;
  margin: 0;
  padding-bottom: 3px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
.honey {
  color: var(--honey);
}
.whole {
  margin: 0 0 8px;
  padding-left: 18px;
}
.rules {
  margin-top: 24px;
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

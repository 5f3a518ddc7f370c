<script setup lang="ts">
import { DateTime } from 'luxon'
import type { PersonRun, PlanRunSums } from '#core/routing/dry-run'
import type { PlanRunPeople, PlanRunView } from '#core/team'

/** The last weeks through the plan in hand, beside the one that is live: who would have got whom, when, and with what chance of an answer in time. */
useHead({ title: 'Dry run of the plan – Cavlin' })
const house = useHouse()
const session = useSession()
const say = useToasts()
const mayEdit = computed(() => session.may('edit plan'))
const { data, problem, refresh } = useLiveQuery(() => api<PlanRunView>('/api/team/plan/dry-run'), { dryRun: true, plan: true }, 300)
const days = ref(30)
const speed = ref(1)
const SPEEDS = [
  { value: 0.5, name: 'half as fast as they were' },
  { value: 1, name: 'as fast as they were' },
  { value: 2, name: 'twice as fast as they were' },
]
const run = computed(() => data.value?.run ?? null)
const isRunning = computed(() => run.value !== null && ['waiting', 'working'].includes(run.value.state))
async function start(): Promise<void> {
  try {
    await api('/api/team/plan/dry-run', { method: 'POST', body: { revision: data.value!.revision, days: days.value, speed: speed.value } })
    chosen.value = null
    await refresh()
  } catch (error) {
    say.failed(error)
  }
}
async function stop(): Promise<void> {
  try {
    await api('/api/team/plan/dry-run', { method: 'DELETE' })
    await refresh()
  } catch (error) {
    say.failed(error)
  }
}
const live = computed<PlanRunSums | null>(() => run.value?.result?.live ?? null)
const draft = computed<PlanRunSums | null>(() => run.value?.result?.draft ?? null)
const most = computed(() => Math.max(1, ...[live.value, draft.value].flatMap(r => r?.people.map(p => p.leads) ?? [])))
const people = computed(() =>
  (draft.value?.people ?? [])
    .map(d => ({
      member: d.member,
      both: [
        ['live', live.value?.people.find(p => p.member === d.member) ?? null],
        ['draft', d],
      ] as ['live' | 'draft', PersonRun | null][],
    }))
    .filter(p => p.both.some(([, r]) => r?.leads)),
)
/** Lanes of either plan, by what they are called. */
const lanes = computed(() =>
  [...new Map([...(live.value?.lanes ?? []), ...(draft.value?.lanes ?? [])].map(l => [l.lane, l.name]))].map(([lane, name]) => ({
    lane,
    name: draft.value?.lanes.find(l => l.lane === lane)?.name ?? name,
    live: live.value?.lanes.find(l => l.lane === lane) ?? null,
    draft: draft.value?.lanes.find(l => l.lane === lane) ?? null,
  })),
)
const CALLED = { live: 'live now', draft: 'working copy' }
const hours = (n: number) => (n < 1 ? `${Math.round(n * 60)} min` : n < 48 ? `${Math.round(n)} h` : `${Math.round(n / 24)} days`)
const rateOf = (r: { leads: number; kept: number } | null) => (r && r.leads ? `${percent(r.kept / r.leads)} kept` : '')

/** The figure in hand, and its leads. */
const chosen = ref<{ says: string; query: Record<string, string> } | null>(null)
const who = ref<PlanRunPeople | null>(null)
async function open(says: string, query: Record<string, string>): Promise<void> {
  chosen.value = { says, query }
  try {
    who.value = await api<PlanRunPeople>('/api/team/plan/dry-run/people', { query })
    keepWay({ from: '/route/dry-run', called: 'Dry run', leads: who.value.leads.map(l => l.lead) })
  } catch (error) {
    say.failed(error)
  }
}
const at = (iso: string) => DateTime.fromISO(iso).toFormat('d LLL HH:mm')
</script>

<template>
  <div class="page">
    <StageViews :views="ROUTE_VIEWS" called="Route" />
    <div class="head">
      <h1>Dry run</h1>
      <p class="faded">Who came lately goes through the working copy, and through the plan that is live, with the real hours, holidays and
        absences.</p>
    </div>
    <p v-if="problem && !data" role="alert" class="brick">{{ problem.message }}</p>
    <form v-if="mayEdit && data" class="ask sheet" @submit.prevent="start">
      <label id="run-days">Who came in the last</label>
      <Select
        v-model="days"
        :options="[{ value: 30, name: '30 days' }, { value: 90, name: '90 days' }]"
        option-label="name"
        option-value="value"
        aria-labelledby="run-days"
      />
      <label id="run-speed">with everybody</label>
      <Select v-model="speed" :options="SPEEDS" option-label="name" option-value="value" aria-labelledby="run-speed" />
      <Button v-if="!isRunning" type="submit" label="Run it" /><Button v-else type="button" variant="outlined" label="Stop" @click="stop" />
    </form>
    <p v-if="isRunning" role="status" class="running">
      <ProgressBar
        :value="run!.total ? Math.round(100 * run!.done / run!.total) : 0"
        :show-value="false"
        aria-label="How far it has come"
      />
      {{ run!.total === null ? 'Waiting for its turn …' : `${run!.done.toLocaleString('en')} of ${run!.total.toLocaleString('en')} leads` }}
    </p>
    <p v-else-if="run?.state === 'failed'" role="alert" class="brick">{{ run.problem }}</p>
    <p v-else-if="run?.state === 'stopped'" class="faded">It was stopped.</p>
    <template v-if="draft && run">
      <p v-if="!run.isCurrent" class="banner">The plan has been changed since. Run it again to see what it would do now.</p>
      <p class="sums">
        <button type="button" class="link" @click="open('All of them, by the working copy', { which: 'draft' })">
          {{ count(draft.leads, 'lead', 'leads') }}
        </button>
        of {{ run.days }} days.
        The working copy would keep <b>{{ draft.leads ? percent(draft.kept / draft.leads) : 'none' }}</b> of its
        promises<template v-if="live">, the live plan <b>{{ live.leads ? percent(live.kept / live.leads) : 'none' }}</b></template>.
      </p>
      <dl class="facts">
        <template v-for="[which, sums] in ([['draft', draft], ['live', live]] as const)" :key="which">
          <template v-if="sums">
            <dt>{{ which === 'draft' ? 'Working copy' : 'Live now' }}</dt>
            <dd>
              <button
                v-if="sums.waited.leads"
                type="button"
                class="link"
                @click="open(`Waited for somebody, ${CALLED[which]}`, { which, what: 'late' })"
              >
                {{ count(sums.waited.leads, 'lead', 'leads') }} waited</button>
              <template v-else>Nobody waited</template> for somebody to be
              there<template v-if="sums.waited.leads">: {{ hours(sums.waited.median) }} in the middle, {{ hours(sums.waited.longest) }} at
                most</template>;
              <button
                v-if="sums.nobody"
                type="button"
                class="link brick"
                @click="open(`Nobody got them, ${CALLED[which]}`, { which, member: 'none' })"
              >
                {{ count(sums.nobody, 'lead', 'leads') }} would have had nobody</button>
              <template v-else>each would have had somebody</template>.
            </dd>
          </template>
        </template>
      </dl>
      <h2>By person</h2>
      <div class="scroll" tabindex="0" role="region" aria-label="By person">
        <table class="figures">
          <thead>
            <tr>
              <th scope="col">Person</th>
              <th scope="col">Leads, the working copy under the live plan</th>
              <th scope="col" class="n">Most on a day</th>
              <th scope="col" class="n">Over their limit</th>
              <th scope="col" class="n">Promises kept</th>
            </tr>
          </thead>
          <tbody>
            <template v-for="p in people" :key="p.member">
              <tr v-for="[which, r] in p.both" :key="which" :class="which">
                <th v-if="which === 'live'" scope="rowgroup" rowspan="2">{{ house.memberName(p.member) }}</th>
                <td>
                  <span class="strip">
                    <span class="bar" :style="{ width: `${60 * (r?.leads ?? 0) / most}%` }" aria-hidden="true" />
                    <button
                      v-if="r?.leads"
                      type="button"
                      class="link"
                      :aria-label="`${r.leads} leads, ${house.memberName(p.member)}, ${CALLED[which]}`"
                      @click="open(`${house.memberName(p.member)}, ${CALLED[which]}`, { which, member: p.member })"
                    >
                      {{ r.leads }}
                    </button>
                    <span v-else class="faded">0</span>
                    <span class="faded small">{{ CALLED[which] }}</span>
                  </span>
                </td>
                <td class="n">{{ r?.most ?? 0 }}</td>
                <td class="n">
                  <button
                    v-if="r?.over"
                    type="button"
                    class="link brick"
                    :aria-label="`${r.over} over the limit, ${house.memberName(p.member)}, ${CALLED[which]}`"
                    @click="open(`${house.memberName(p.member)} over their limit, ${CALLED[which]}`, { which, member: p.member, what: 'over' })"
                  >
                    {{ r.over }}
                  </button>
                  <span v-else class="faded">0</span>
                </td>
                <td class="n">{{ r?.leads ? percent(r.kept / r.leads) : '' }}</td>
              </tr>
            </template>
          </tbody>
        </table>
      </div>
      <h2>By lane</h2>
      <div class="scroll" tabindex="0" role="region" aria-label="By lane">
        <table class="figures">
          <thead>
            <tr><th scope="col">Lane</th><th scope="col" class="n">Live now</th><th scope="col" class="n">Working copy</th></tr>
          </thead>
          <tbody>
            <tr v-for="l in lanes" :key="l.lane">
                <th scope="row">{{ l.name }}</th>
              <td v-for="which in (['live', 'draft'] as const)" :key="which" class="n">
                <template v-if="l[which]">
                  <button
                    v-if="l[which]!.leads"
                    type="button"
                    class="link"
                    :aria-label="`${l[which]!.leads} leads, ${l.name}, ${CALLED[which]}`"
                    @click="open(`${l.name}, ${CALLED[which]}`, { which, lane: l.lane })"
                  >
                    {{ l[which]!.leads }}
                  </button>
                  <b v-else class="brick">caught nothing</b> <span class="faded small">{{ rateOf(l[which]) }}</span>
                </template>
                <span v-else class="faded small">not in this plan</span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <section v-if="chosen && who" class="sheet who" aria-labelledby="who-title">
        <h2 id="who-title">{{ chosen.says }} <span class="faded figures">{{ who.total }}</span></h2>
        <ul>
          <li v-for="l in who.leads" :key="l.lead">
            <NuxtLink :to="`/follow-up/leads/${l.lead}`">{{ l.name }}</NuxtLink>
            <span class="faded small">
              {{ [l.company, `came ${at(l.came)}`, l.member ? `${house.memberName(l.member)}${l.late ? ` from ${at(l.at)}` : ''}` : 'nobody', l.kept === null ? '' : `${percent(l.kept)} in time`].filter(Boolean).join(', ') }}
            </span>
          </li>
        </ul>
        <p v-if="who.total > who.leads.length" class="faded small">The first {{ who.leads.length }} of {{ who.total }}.</p>
      </section>
      <h2>What is taken for granted</h2>
      <ul class="small faded taken">
        <li>Each answers {{ SPEEDS.find(s => s.value === run!.speed)?.name ?? '' }}, in working time:
          <template v-for="(p, i) in data!.paces" :key="String(p.member)">
            {{ i ? '; ' : '' }}{{ p.member === null ? 'everybody together' : house.memberName(p.member) }} half of them within
            {{ workingTime(p.minutes, house.dayHours) }} ({{ count(p.answers, 'answer', 'answers') }})</template>
          <template v-if="!data!.paces.length">nobody has answered yet, so each promise that is not over is taken for kept</template>. Who
          has answered too few is taken for as fast as everybody together.</li>
        <li>People are judged by what is known of them today, and carry the label that they got first. Turns begin level; open leads begin
          as they were, and a closed one frees its place when it was closed.</li>
        <li>Only first entries are sent through: who came again kept their owner.</li>
      </ul>
    </template>
    <p v-else-if="data && !isRunning" class="empty faded">Nothing has been run yet. Change the plan, then see here what that would have
      meant.</p>
  </div>
</template>

<style scoped>
.ask { display: flex; flex-wrap: wrap; gap: 8px 12px; align-items: center; padding: 10px 14px; margin-bottom: 12px; }
.running { display: grid; gap: 4px; max-width: 420px; }
.sums { font-size: 17px; line-height: 24px; margin: 8px 0; }
.facts { display: grid; grid-template-columns: auto 1fr; gap: 4px 16px; margin: 0 0 8px; } .facts dt { font-weight: 560; } .facts dd { margin: 0; }
h2 { margin-top: 18px; }
th[scope=row], th[scope=rowgroup] { text-align: left; font-weight: 560; padding: 6px 8px 6px 0; vertical-align: top; border-top: 1px solid var(--rule); }
td { padding: 5px 8px; } tr.live td, tr:not(.draft) td { border-top: 1px solid var(--rule); }
.strip { display: flex; gap: 8px; align-items: center; } .bar { height: 8px; background: var(--slate); min-width: 1px; } .draft .bar { background: var(--spruce); }
.n { text-align: right; }
.link { all: unset; cursor: pointer; color: var(--spruce); text-decoration: underline; } .link.brick { color: var(--brick); } .link:focus-visible { outline: 2px solid var(--spruce); }
.who { padding: 14px 18px; margin-top: 14px; } .who ul { list-style: none; margin: 6px 0 0; padding: 0; max-height: 320px; overflow: auto; } .who li { display: flex; flex-wrap: wrap; gap: 0 10px; padding: 5px 0; border-top: 1px solid var(--rule); }
.taken { margin: 4px 0 0; padding-left: 18px; }
</style>

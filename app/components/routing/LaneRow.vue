<script setup lang="ts">
import { GripVertical, X } from 'lucide-vue-next'
import type { ActivityKind, Condition } from '#core/conditions/condition'
import { changeLane, moveLane, removeLane, seat, setPromise, setShare, unseat } from '#core/routing/edit'
import { FINDS, type Lane, type Outside, type RoutingPlan, type Way } from '#core/routing/plan'
import { whoseTurn } from '#core/routing/turns'
import type { PlanCheck } from '#core/routing/checks'
import type { RouteView } from '#core/team'
import type { Attribute } from '~/components/ConditionTree.vue'

/** A lane: whom it fits, how it finds somebody, and its people with their day. */
const plan = defineModel<RoutingPlan>({ required: true })
const props = defineProps<{
  lane: Lane
  index: number
  checks: PlanCheck[]
  disabled: boolean
  state: RouteView | null
  now: number
  /** A moment of the day whose hours are shown. */ shown: number
  attributes: Attribute[]
  activityAttributes: (kind: ActivityKind) => Attribute[]
  /** The lane as it routes now; undefined: it is new. */ live: Lane | undefined
}>()
const emit = defineEmits<{ removed: [name: string] }>()
const house = useHouse()
const inWords = useConditionWords()
const opened = ref(false)

const WAYS: { key: Way; name: string }[] = [
  { key: 'turns', name: 'By turns' },
  { key: 'least_open', name: 'Who has least open work' },
  { key: 'firm_owner', name: 'Who owns others of the firm' },
  { key: 'earlier_owner', name: 'Who owned them before' },
]
const TIMES: { key: Outside; name: string }[] = [
  { key: 'anyway', name: 'gives anyway' },
  { key: 'present', name: 'gives to who is at work, or goes on' },
  { key: 'waits', name: 'waits until somebody begins' },
]
const isLast = computed(() => props.index === plan.value.lanes.length - 1)
const ways = computed(() => (isLast.value ? WAYS.filter(w => !FINDS.has(w.key)) : WAYS))
const says = computed(() =>
  props.lane.when === null
    ? 'Everybody who is left'
    : 'all' in props.lane.when && !props.lane.when.all.length
      ? 'Everybody'
      : inWords(props.lane.when),
)
const put = (change: Partial<Omit<Lane, 'key'>>) => {
  plan.value = changeLane(plan.value, props.lane.key, change)
}
const people = computed(() => new Map(props.state?.people.map(p => [p.id, p]) ?? []))
const turns = computed(() => new Map(props.state?.turns.filter(t => t.lane === props.lane.key).map(t => [t.memberId, t]) ?? []))
const isAway = (id: string) => people.value.get(id)?.absences.find(a => Date.parse(a.from) <= props.now && props.now < Date.parse(a.until))
/** Whose turn it is, of those who are there, in the lane as it routes now. */
const next = computed(() => {
  if (!props.live || props.live.way !== 'turns') return null
  const there = props.live.pool.filter(s => people.value.has(s.member) && !isAway(s.member))
  return whoseTurn(there, new Map([...turns.value].map(([id, t]) => [id, t.credit])))
})
const all = computed(() => props.lane.pool.reduce((sum, s) => sum + s.share, 0))
const percent = (share: number) => `${Math.round((100 * share) / all.value)}%`
const seats = computed(() =>
  props.lane.pool.map(s => ({
    ...s,
    who: people.value.get(s.member),
    name: house.memberName(s.member),
    away: isAway(s.member),
    turn: turns.value.get(s.member),
  })),
)
const free = computed(() =>
  house.words!.members.filter(m => ['admin', 'manager', 'sales'].includes(m.role) && !props.lane.pool.some(s => s.member === m.id)),
)
const promises = computed(() => [...house.words!.labels].reverse().map(l => ({ ...l, own: props.lane.promises[l.key] ?? null })))
const own = computed(() => promises.value.filter(p => p.own !== null))
const NOTHING: Condition = { all: [] }
function remove(): void {
  const { name, key } = props.lane
  plan.value = removeLane(plan.value, key)
  emit('removed', name)
}
</script>

<template>
  <li class="sheet lane">
    <div class="top">
      <span v-if="!disabled && !isLast" class="grip" aria-hidden="true" title="Drag to another place"><GripVertical :size="15" /></span>
      <InputText
        :id="`lane-${lane.key}`"
        class="name"
        size="small"
        :model-value="lane.name"
        maxlength="200"
        :disabled="disabled"
        :aria-label="`Name of lane ${index + 1}`"
        @change="put({ name: ($event.target as HTMLInputElement).value.trim() || lane.name })"
      />
      <span v-if="!disabled && !isLast" class="acts">
        <MoveButtons
          :called="lane.name"
          :first="index === 0"
          :last="index >= plan.lanes.length - 2"
          @move="plan = moveLane(plan, lane.key, $event)"
        />
        <Button variant="text" size="small" severity="secondary" :aria-label="`Take ${lane.name} out`" @click="remove">
          <X :size="14" aria-hidden="true" />
        </Button>
      </span>
    </div>
    <p class="what">
      <button type="button" class="says" :aria-expanded="opened" :aria-controls="`open-${lane.key}`" @click="opened = !opened">
        {{ says }}
      </button>
      <span v-if="lane.outside !== 'anyway'" class="faded small">Outside working hours it
        {{ TIMES.find(t => t.key === lane.outside)!.name }}.</span>
      <span v-if="lane.speaks" class="faded small">To who speaks their language.</span>
      <span v-if="lane.onward" class="faded small">Unanswered, it goes on after {{ plan.low.onward }}% of the promise.</span>
      <span v-for="p in own" :key="p.key" class="faded small">{{ p.name }} within {{ workingTime(p.own!, house.dayHours) }}.</span>
    </p>
    <p v-for="c in checks" :key="c.message" class="small" :class="c.level === 'stop' ? 'brick' : 'honey'">{{ c.message }}</p>
    <div v-if="opened" :id="`open-${lane.key}`" class="open">
      <ConditionTree
        v-if="lane.when !== null"
        :model-value="lane.when"
        :attributes="attributes"
        :activity-attributes="activityAttributes"
        :disabled="disabled"
        quiet
        :called="`Whom ${lane.name} takes`" @update:model-value="put({ when: $event ?? NOTHING })"
      />
      <div class="line">
        <label :id="`way-${lane.key}`">Finds somebody</label>
        <Select
          :model-value="lane.way"
          :options="ways"
          option-label="name"
          option-value="key"
          size="small"
          :disabled="disabled"
          :aria-labelledby="`way-${lane.key}`"
          @update:model-value="put({ way: $event })"
        />
      </div>
      <div class="line">
        <label :id="`outside-${lane.key}`">Outside working hours it</label>
        <Select
          :model-value="lane.outside"
          :options="TIMES"
          option-label="name"
          option-value="key"
          size="small"
          :disabled="disabled"
          :aria-labelledby="`outside-${lane.key}`"
          @update:model-value="put({ outside: $event })"
        />
      </div>
      <label v-if="!FINDS.has(lane.way)" class="tick">
        <Checkbox
          :model-value="lane.speaks"
          binary
          :disabled="disabled"
          :input-id="`speaks-${lane.key}`"
          @update:model-value="put({ speaks: $event })"
        />
        Only to who speaks the language they wrote in, as far as somebody does</label>
      <label v-if="!FINDS.has(lane.way)" class="tick">
        <Checkbox
          :model-value="lane.onward"
          binary
          :disabled="disabled"
          :input-id="`onward-${lane.key}`"
          @update:model-value="put({ onward: $event })"
        />
        Whom nobody answers in time goes on to somebody else of this lane</label>
      <fieldset class="promises">
        <legend>Promised here, in working minutes</legend>
        <span v-for="p in promises" :key="p.key" class="line">
          <label class="tick">
            <Checkbox
              :model-value="p.own !== null"
              binary
              :disabled="disabled"
              :input-id="`own-${lane.key}-${p.key}`"
              @update:model-value="plan = setPromise(plan, lane.key, p.key, $event ? p.responseTarget : null)"
            />
            {{ p.name }}
          </label>
          <ScoringPointsInput
            v-if="p.own !== null"
            :model-value="p.own"
            :least="1"
            :most="100000"
            :called="`Working minutes for ${p.name} in ${lane.name}`"
            :disabled="disabled"
            @update:model-value="plan = setPromise(plan, lane.key, p.key, $event)"
          />
          <span v-else class="faded small">as everywhere, {{ workingTime(p.responseTarget, house.dayHours) }}</span>
        </span>
      </fieldset>
    </div>
    <p v-if="FINDS.has(lane.way)" class="faded small">
      {{ lane.way === 'firm_owner' ? 'Goes to whoever owns others of the same firm, by the domain of their address or its name.' : 'Goes to whoever owned this lead before.' }}
      Who has nobody like that goes on to the next lane.</p>
    <div v-else class="scroll" tabindex="0" role="region" :aria-label="`People of ${lane.name}`">
      <table class="figures">
        <thead>
          <tr>
            <th>{{ lane.way === 'turns' ? 'By turns' : 'Least open work' }}</th>
            <th class="n">Share</th>
            <th class="day"><span>0</span><span>6</span><span>12</span><span>18</span><span>24</span></th>
            <th class="n">Open</th>
            <th class="n">Given</th>
            <th v-if="!disabled"><span class="unseen">What to do</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in seats" :key="s.member" :class="{ away: s.away || !s.who }">
            <td>
              <span :class="{ next: next === s.member }">{{ s.name }}</span>
              <span v-if="next === s.member" class="unseen"> is next</span>
              <br v-if="s.away">
              <span v-if="s.away" class="small">away until {{ due(s.away.until) }}</span>
            </td>
            <td class="n">
              <ScoringPointsInput
                :model-value="s.share"
                :least="1"
                :most="100"
                :called="`Share of ${s.name} in ${lane.name}`"
                :disabled="disabled"
                @update:model-value="plan = setShare(plan, lane.key, s.member, $event)"
              />
              <span class="faded small percent">{{ percent(s.share) }}</span>
            </td>
            <td class="day">
              <RoutingDayStrip
                v-if="s.who"
                :hours="s.who.hours"
                :absences="s.who.absences"
                :zone="house.words!.house.zone"
                :at="shown"
                :now="now"
              />
            </td>
            <td class="n">
              {{ s.who?.open ?? '–' }}<span v-if="s.who?.mostOpen != null" class="faded small"> of {{ s.who.mostOpen }}</span>
            </td>
            <td class="n">
              {{ s.turn?.given ?? 0 }}<br v-if="s.turn?.lastAt">
              <span v-if="s.turn?.lastAt" class="faded small">{{ ago(s.turn.lastAt) }}</span>
            </td>
            <td v-if="!disabled" class="n">
              <Button
                variant="text"
                size="small"
                severity="secondary"
                :aria-label="`Take ${s.name} out of ${lane.name}`"
                @click="plan = unseat(plan, lane.key, s.member)"
              >
                <X :size="14" aria-hidden="true" />
              </Button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <Select
      v-if="!disabled && !FINDS.has(lane.way) && free.length"
      :model-value="null"
      :options="free"
      option-label="name"
      option-value="id"
      size="small"
      placeholder="Put somebody in …"
      :aria-label="`Put somebody into ${lane.name}`"
      class="add"
      @update:model-value="$event && (plan = seat(plan, lane.key, $event))"
    />
  </li>
</template>

<style scoped>
.lane { padding: 12px 16px; margin-bottom: -1px; }
.top { display: flex; gap: 6px; align-items: center; }
.grip { color: var(--faded); cursor: grab; }
.name { flex: 1; min-width: 0; font-weight: 600; }
.name:disabled { background: none; border-color: transparent; color: var(--ink); opacity: 1; padding-inline: 0; }
.acts { display: flex; }
.what { display: flex; flex-wrap: wrap; gap: 0 12px; align-items: baseline; margin: 4px 0 6px; }
.says { border: 0; padding: 2px 0; min-height: 24px; background: none; font: inherit; color: var(--spruce); text-align: start; text-decoration: underline; cursor: pointer; overflow-wrap: anywhere; }
.open { display: grid; gap: 10px; padding: 10px 12px; margin-bottom: 8px; border: 1px solid var(--rule); background: var(--paper); }
.line { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; }
.line label { margin: 0; }
.tick { display: flex; gap: 8px; align-items: center; margin: 0; font-size: 14px; }
.promises { display: grid; gap: 4px; margin: 0; padding: 0; border: 0; }
.promises legend { font-size: 14px; margin-bottom: 4px; }
table { width: 100%; }
td, th { padding: 5px 12px 5px 0; border-top: 1px solid var(--rule); vertical-align: middle; white-space: nowrap; }
th { border-top: 0; }
th.day { display: flex; justify-content: space-between; width: 192px; padding-right: 0; margin-right: 12px; font-weight: 400; font-size: 11px; color: var(--faded); }
td.day { width: 204px; }
.percent { display: inline-block; width: 3em; text-align: right; }
.away { color: var(--faded); }
.next { border-bottom: 2px solid var(--spruce); }
.honey { color: var(--honey); }
.add { margin-top: 8px; }
</style>

<script setup lang="ts">
import { Plus } from 'lucide-vue-next'
import { VueDraggable } from 'vue-draggable-plus'
import { addLane, orderLanes } from '#core/routing/edit'
import type { Lane, RoutingPlan } from '#core/routing/plan'
import type { PlanView, RouteView } from '#core/team'
import { nextWork } from '#core/working-time'

/** The routing plan: lanes in order with their people, worked on as a copy until it is made live. */
useHead({ title: 'Route – Cavlin' })
const house = useHouse()
const session = useSession()
const { done } = useToasts()
const { leadAttributes, activityAttributes } = useLeadAttributes()
const now = useNow()
const mayEdit = computed(() => session.may('edit plan'))
const { data: state, problem } = useLiveQuery(() => api<RouteView>('/api/team/route'), { leads: true, colleagues: true, plan: true }, 800)
const edit = useEditing<RoutingPlan, PlanView>({
  at: '/api/team/plan',
  hears: { plan: true, properties: true, segments: true, lists: true, colleagues: true, site: true },
})
const { point: view, definition } = edit
useUnsavedGuard(edit, mayEdit)
const plan = computed<RoutingPlan | null>({
  get: () => definition.value,
  set: next => {
    if (next) definition.value = JSON.parse(JSON.stringify(next)) as RoutingPlan
  },
})
/** The order, as it is dragged: one step of undo. The last lane stays where it is. */
const order = computed<Lane[]>({
  get: () => plan.value?.lanes.slice(0, -1) ?? [],
  set: next => {
    if (plan.value && next.map(l => l.key).join() !== order.value.map(l => l.key).join())
      plan.value = orderLanes(
        plan.value,
        next.map(l => l.key),
      )
  },
})
const last = computed(() => plan.value?.lanes.at(-1))
const checksOf = (i: number) => view.value?.checks.filter(c => c.place === `lanes.${i}`) ?? []
const liveLane = (key: string) => view.value?.live?.definition.lanes.find(l => l.key === key)
function add(): void {
  const key = `lane_${Date.now().toString(36)}`
  plan.value = addLane(plan.value!, key)
  void nextTick(() => {
    const name = document.getElementById(`lane-${key}`) as HTMLInputElement | null
    name?.focus()
    // What is typed takes the place of what stands there.
    name?.select()
  })
}
/** Today, or where the firm works no more today the next day on which it does. */
const shown = computed(() => nextWork(now.value, house.words!.house.hours) ?? now.value)
const weekday = computed(() => new Date(shown.value).toLocaleDateString('en-GB', { weekday: 'long', timeZone: house.words!.house.zone }))
const went = (number: number) => `Edition ${number} is live. It routes from now on; who has an owner keeps them.`
const loads = computed(() => (state.value?.people ?? []).map(l => ({ ...l, name: house.memberName(l.id) })).sort((a, b) => b.open - a.open))
const mostOpen = computed(() => Math.max(1, ...loads.value.map(l => l.open)))
const openStatuses = computed(() => house.words!.statuses.filter(s => ['first', 'open'].includes(s.stage)).map(s => s.key))
</script>

<template>
  <div class="page">
    <StageViews :views="ROUTE_VIEWS" called="Route" />
    <EditionHead
      title="Routing plan" :edit="edit" at="/api/team/plan" :may-edit="mayEdit" :went="went"
      none="None is live: leads come in without an owner, and nobody is told" looks="You can look at the plan; managers change it."
    />
    <p v-if="problem" role="alert" class="brick">{{ problem.message }}</p>
    <div v-if="plan" class="two">
      <section aria-label="Lanes">
        <p class="faded">From the top; the first lane that fits takes the lead. Whose name is underlined is next. The strips are the hours
          of {{ weekday }}.</p>
        <VueDraggable v-model="order" tag="ol" handle=".grip" :animation="120" :disabled="!mayEdit">
          <RoutingLaneRow
            v-for="(lane, i) in order"
            :key="lane.key"
            v-model="plan"
            :lane="lane"
            :index="i"
            :checks="checksOf(i)"
            :disabled="!mayEdit"
            :state="state"
            :now="now"
            :shown="shown"
            :attributes="leadAttributes"
            :activity-attributes="activityAttributes"
            :live="liveLane(lane.key)"
            @removed="done(`“${$event}” is out.`, async () => edit.undo())"
          />
        </VueDraggable>
        <Button v-if="mayEdit" size="small" variant="text" class="new" @click="add">
          <Plus :size="15" aria-hidden="true" /> A new lane</Button>
        <ol :start="plan.lanes.length">
          <RoutingLaneRow
            v-if="last"
            :key="last.key"
            v-model="plan"
            :lane="last"
            :index="plan.lanes.length - 1"
            :checks="checksOf(plan.lanes.length - 1)"
            :disabled="!mayEdit"
            :state="state"
            :now="now"
            :shown="shown"
            :attributes="leadAttributes"
            :activity-attributes="activityAttributes"
            :live="liveLane(last.key)"
          />
        </ol>
      </section>
      <section>
        <h2 id="loads">What each has in hand</h2>
        <div class="scroll" tabindex="0" role="region" aria-label="What each has in hand">
          <table class="figures loads">
            <thead><tr><th>Owner</th><th>Open leads</th><th class="n">Waiting</th><th class="n">New in 7 days</th></tr></thead>
            <tbody>
              <tr v-for="load in loads" :key="load.id">
                <td>{{ load.name }}</td>
                <td>
                  <NuxtLink :to="{ path: '/follow-up', query: { owner: load.id, status: openStatuses } }" class="bar">
                    <span class="fill" :style="{ width: `${60 * load.open / mostOpen}%` }" />{{ load.open }}
                  </NuxtLink>
                </td>
                <td class="n">
                  <NuxtLink :to="{ path: '/follow-up', query: { owner: load.id, waiting: 'true', sort: 'waiting', order: 'up' } }">
                    {{ load.waiting }}
                  </NuxtLink>
                  <br>
                  <span v-if="load.oldestWaiting" class="faded small">since {{ ago(load.oldestWaiting) }}</span>
                </td>
                <td class="n">{{ load.week }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <RoutingUnansweredForm v-model="plan" :disabled="!mayEdit" />
      </section>
    </div>
  </div>
</template>

<style scoped>
.two { grid-template-columns: minmax(0, 3fr) minmax(320px, 2fr); }
@media (max-width: 1100px) { .two { grid-template-columns: minmax(0, 1fr); } }
ol { list-style: none; margin: 8px 0 0; padding: 0; }
.new { margin: 6px 0; }
.loads td, .loads th { padding: 6px 10px 6px 0; border-top: 1px solid var(--rule); vertical-align: top; }
.loads th { border-top: 0; }
.bar { display: flex; align-items: center; gap: 8px; }
.fill { display: inline-block; height: 8px; background: var(--slate); flex: none; }
</style>

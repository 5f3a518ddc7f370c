<script setup lang="ts">
import { HEAPS, type ConversationItem, type ConversationsView, type Heap } from '#core/chat/team'

/** What is said in chats now: at the left who waits, in the middle what was said, at the right who it is. */
useHead({ title: 'Conversations – Cavlin' })
const route = useRoute()
const router = useRouter()
const house = useHouse()
const session = useSession()
const NAMES: Record<Heap, string> = { nobody: 'Nobody yet', mine: 'With me', others: 'With others', flow: 'With the flow', ended: 'Ended' }
/** Heaps that only grow: counted is what came to them since yesterday. */
const OF_A_DAY: Heap[] = ['flow', 'ended']
const EMPTY: Record<Heap, string> = {
  nobody: 'Nobody waits. Whoever asks for a person in a chat stands here at once.',
  mine: 'You lead no conversation. Take one of those that nobody has yet.',
  others: 'No colleague leads one just now.',
  flow: 'Nobody talks to a chat’s flow just now.',
  ended: 'None has ended yet.',
}
const heap = computed<Heap>(() => HEAPS.find(h => h === route.query.heap) ?? 'nobody')
const chosen = computed(() => (typeof route.query.of === 'string' ? route.query.of : null))
const { data, problem, refresh } = useLiveQuery(
  () => api<ConversationsView>(`/api/team/conversations?heap=${heap.value}`),
  { conversations: true, leads: true },
  150,
)
watch(heap, () => void refresh())
const rows = computed(() => data.value?.rows ?? [])
const go = (change: { heap?: Heap; of?: string | null }) =>
  router.replace({
    query: {
      ...((change.heap ?? heap.value) !== 'nobody' && { heap: change.heap ?? heap.value }),
      ...(change.of === undefined ? chosen.value && !change.heap && { of: chosen.value } : change.of && { of: change.of }),
    },
  })
const now = useNow(15_000)
const here = computed(() => data.value?.presence.filter(p => p.presence !== 'gone') ?? [])
const PRESENCE = { here: 'here', busy: 'busy', gone: 'gone' }

/** How much of the time that was promised is used up, in words. */
function waitsFor(c: ConversationItem): { text: string; overdue: boolean } | null {
  if (c.answeredAt || !c.askedAt || c.state === 'ended') return null
  if (!c.dueAt) return { text: `asked ${ago(c.askedAt, now.value)}`, overdue: false }
  const late = Date.parse(c.dueAt) < now.value
  return { text: late ? `Overdue since ${due(c.dueAt, now.value)}` : `Answer by ${due(c.dueAt, now.value)}`, overdue: late }
}
const called = (c: ConversationItem) => c.lead?.name ?? 'Somebody'
function step(by: 1 | -1): void {
  const at = rows.value.findIndex(r => r.id === chosen.value)
  const next = rows.value[Math.max(0, Math.min(rows.value.length - 1, at + by))]
  if (next) void go({ of: next.id })
}
useKeys({ j: () => step(1), k: () => step(-1) })
/** A conversation that moved to another heap stays open where it is read. */
function taken(): void {
  void go({ heap: 'mine', of: chosen.value })
  void refresh()
}
</script>

<template>
  <div>
    <StageViews :views="FOLLOW_UP_VIEWS" called="Follow up" />
    <div class="head">
      <h1>Conversations</h1>
      <p class="faded small who">
        <template v-if="here.length">
          <span v-for="p in here" :key="p.member">
            {{ house.memberName(p.member) }}:
            {{ PRESENCE[p.presence] }}<template v-if="p.with">, {{ count(p.with, 'conversation', 'conversations') }}</template>
          </span>
        </template>
        <template v-else>Nobody is at work just now. Chats say so, and ask for an address.</template>
      </p>
    </div>
    <p v-if="problem" class="problem" role="alert">{{ problem.message }}</p>
    <div class="desk" :class="{ open: chosen }">
      <section class="list" aria-label="Conversations by heap">
        <nav class="heaps" aria-label="Heaps">
          <button v-for="h in HEAPS" :key="h" type="button" :aria-pressed="heap === h" @click="go({ heap: h, of: null })">
            {{ NAMES[h] }}
            <span v-if="OF_A_DAY.includes(h)" class="small faded day">in a day</span> <b class="figures">{{ data?.heaps[h] ?? '' }}</b>
          </button>
        </nav>
        <ul v-if="rows.length">
          <li v-for="c in rows" :key="c.id" :class="{ on: c.id === chosen }">
            <NuxtLink :to="{ query: { ...route.query, of: c.id } }" :aria-current="c.id === chosen ? 'true' : undefined">
              <span class="name"><b>{{ called(c) }}</b><span v-if="c.unread" class="new">new</span></span>
              <span class="small faded">
                {{ c.point.name }} ·
                {{ ago(c.lastAt, now) }}<template v-if="c.member && heap !== 'mine'"> · {{ house.memberName(c.member) }}</template>
              </span>
              <span v-if="waitsFor(c)" class="small" :class="waitsFor(c)!.overdue ? 'overdue' : 'soon'">{{ waitsFor(c)!.text }}</span>
              <span v-if="c.rating" class="small">Rated: {{ RATINGS[c.rating - 1] }}</span>
              <span v-if="c.last" class="last small">
                {{ c.last.by === 'visitor' ? '' : c.last.by === 'member' ? 'We: ' : 'Flow: ' }}{{ c.last.text }}
              </span>
            </NuxtLink>
          </li>
        </ul>
        <p v-else-if="data" class="faded empty">{{ EMPTY[heap] }}</p>
      </section>
      <ChatConversation
        v-if="chosen"
        :id="chosen"
        :key="chosen"
        :presence="data?.presence ?? []"
        :may="session.may('work leads')"
        @taken="taken"
        @close="go({ of: null })"
      />
      <section v-else class="none faded"><p>Choose a conversation, by hand or with <kbd>j</kbd> and <kbd>k</kbd>.</p></section>
    </div>
  </div>
</template>

<style scoped>
.head { display: flex; flex-wrap: wrap; gap: 4px 20px; align-items: baseline; margin-bottom: 12px; }
.who { display: flex; flex-wrap: wrap; gap: 2px 16px; margin: 0; }
.desk { display: grid; grid-template-columns: 270px minmax(0, 1fr); gap: 20px; align-items: start; }
.list { border: 1px solid var(--rule); background: var(--sheet); }
.heaps { display: grid; border-bottom: 1px solid var(--rule); }
.heaps button { display: flex; justify-content: space-between; padding: 7px 12px; border: 0; background: none; color: var(--ink); font: inherit; text-align: start; cursor: pointer; }
.heaps .day { margin: 0 6px 0 auto; align-self: center; font-weight: 400; }
.heaps button[aria-pressed='true'] { background: var(--wash); font-weight: 600; }
ul { list-style: none; margin: 0; padding: 0; max-height: calc(100vh - 380px); min-height: 220px; overflow-y: auto; }
li { border-bottom: 1px solid var(--rule); } li:last-child { border-bottom: 0; }
li a { display: grid; gap: 1px; padding: 9px 12px; color: var(--ink); text-decoration: none; }
li.on a { background: var(--wash); }
.name { display: flex; justify-content: space-between; gap: 8px; } .name b { overflow-wrap: anywhere; }
.new { font-size: 12px; line-height: 18px; color: var(--spruce); border-bottom: 2px solid var(--spruce); }
.soon { color: var(--honey); } .overdue { color: var(--brick); font-weight: 600; }
.last { color: var(--faded); white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.empty, .none { padding: 12px; margin: 0; }
@media (max-width: 900px) {
  .desk { grid-template-columns: minmax(0, 1fr); }
  .desk.open .list, .none { display: none; }
  ul { max-height: none; }
}
</style>

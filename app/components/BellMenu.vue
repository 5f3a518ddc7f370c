<script setup lang="ts">
import { Bell } from 'lucide-vue-next'
import type { ConversationItem } from '#core/chat/team'
import type { NoticeView } from '#core/team'

const panel = ref<{ toggle: (e: Event) => void; hide: () => void }>()
const open = ref(false)
const inside = ref<HTMLElement>()
/** Whoever opens it is in it, and goes on from there. */
function onShow(): void {
  open.value = true
  void nextTick(() => (inside.value?.querySelector<HTMLElement>('a, button') ?? inside.value)?.focus())
}
const { data, refresh } = useLiveQuery(() => api<{ unread: number; notices: NoticeView[] }>('/api/team/bell'), { notices: true })
/** Who waits in a chat, for whoever looks: said here at once. */
const { data: talks } = useLiveQuery(
  () => api<{ waiting: ConversationItem[] }>('/api/team/conversations/waiting'),
  { conversations: true },
  500,
)
const waiting = computed(() => talks.value?.waiting ?? [])
const unread = computed(() => data.value?.unread ?? 0)
const all = computed(() => unread.value + waiting.value.length)
const called = computed(() =>
  [
    unread.value ? `Bell, ${unread.value} not seen` : 'Bell, nothing new',
    ...(waiting.value.length ? [count(waiting.value.length, 'waits in a chat', 'wait in chats')] : []),
  ].join(', '),
)

// With a tab open and out of sight, the browser says it too, once each, when that was allowed.
const able = 'Notification' in window
const allowed = ref(able && Notification.permission === 'granted')
const wanted = ref(false)
const PLACE = 'cavlin.browser-notices'
onMounted(() => {
  wanted.value = readSetting() === 'yes'
})
function readSetting(): string | null {
  try {
    return localStorage.getItem(PLACE)
  } catch {
    return null
  }
}
async function turnNotices(): Promise<void> {
  if (!wanted.value && !allowed.value) allowed.value = (await Notification.requestPermission()) === 'granted'
  wanted.value = !wanted.value && allowed.value
  try {
    localStorage.setItem(PLACE, wanted.value ? 'yes' : 'no')
  } catch {
    /* it holds for this page */
  }
}
const said = new Set<string>()
watch(data, (now, before) => {
  const fresh = now?.notices.filter(n => !n.readAt && !said.has(n.id)) ?? []
  for (const n of fresh) said.add(n.id)
  // What was there when the page came is no news.
  if (!before || !wanted.value || !allowed.value || document.visibilityState === 'visible') return
  for (const n of fresh.slice(0, 3)) {
    const note = new Notification(n.subject, { tag: n.id, icon: '/icon.svg' })
    note.onclick = () => {
      window.focus()
      void navigateTo(target(n))
      note.close()
    }
  }
})

watch(talks, (now, before) => {
  const fresh = now?.waiting.filter(c => !said.has(`${c.id} ${c.lastAt}`)) ?? []
  for (const c of fresh) said.add(`${c.id} ${c.lastAt}`)
  if (!before || !wanted.value || !allowed.value || document.visibilityState === 'visible') return
  for (const c of fresh.slice(0, 3)) {
    const note = new Notification(`${c.lead?.name ?? 'Somebody'} waits in the chat`, { body: c.last?.text, tag: c.id, icon: '/icon.svg' })
    note.onclick = () => {
      window.focus()
      void navigateTo(talkOf(c))
      note.close()
    }
  }
})
const talkOf = (c: ConversationItem) => ({ path: '/follow-up/conversations', query: { ...(c.member && { heap: 'mine' }), of: c.id } })

const session = useSession()
/** What is about many at once leads to those of the list that are one's own; what is about nobody yet, to what waits. */
const target = ({ leadId, listId }: NoticeView) =>
  leadId
    ? `/follow-up/leads/${leadId}`
    : listId
      ? { path: '/follow-up', query: { list: listId, owner: session.me!.id } }
      : '/qualify/review'

async function seen(notice?: NoticeView): Promise<void> {
  const about = notice?.leadId ? { lead: notice.leadId } : notice?.listId ? { list: notice.listId } : notice ? { notice: notice.id } : {}
  await api('/api/team/bell', { method: 'POST', body: about })
  await refresh()
}
</script>

<template>
  <div class="bell">
    <Button
      variant="text"
      severity="secondary"
      :aria-label="called"
      aria-haspopup="dialog"
      :aria-expanded="open"
      @click="panel?.toggle($event)"
    >
      <Bell :size="18" aria-hidden="true" /><span v-if="all" class="count" aria-hidden="true">{{ all > 99 ? '99+' : all }}</span>
    </Button>
    <Popover ref="panel" aria-label="Bell" @show="onShow" @hide="open = false">
      <div ref="inside" class="panel" tabindex="-1">
        <div class="head">
          <h2>What came in for you</h2>
          <Button v-if="unread" label="All seen" size="small" variant="text" @click="seen()" />
        </div>
        <p v-if="able" class="small browser">
          <Button
            size="small"
            variant="text"
            :aria-pressed="wanted"
            :label="wanted ? 'The browser tells me too; stop that' : 'Tell me through the browser, too'"
            @click="turnNotices"
          />
          <span class="faded">
            {{ able && !allowed && !wanted ? 'Your browser asks you once.' : wanted ? 'While a tab of Cavlin is open; with none open, mails tell you.' : '' }}
          </span>
        </p>
        <ul v-if="waiting.length" aria-label="Waiting in chats">
          <li v-for="c in waiting" :key="c.id" class="fresh">
            <NuxtLink :to="talkOf(c)" @click="panel?.hide()">{{ c.lead?.name ?? 'Somebody' }} waits in “{{ c.point.name }}”</NuxtLink>
            <span class="faded small">
              {{ c.dueAt && !c.answeredAt ? `Answer by ${due(c.dueAt)}` : ago(c.lastAt) }}<template v-if="c.last?.by === 'visitor'">:
                {{ c.last.text.slice(0, 80) }}
              </template>
            </span>
          </li>
        </ul>
        <p v-if="!data?.notices.length && !waiting.length" class="faded">Nobody yet. Whoever is routed to you appears here.</p>
        <ul v-if="data?.notices.length">
          <li v-for="notice in data.notices" :key="notice.id" :class="{ fresh: !notice.readAt }">
            <NuxtLink :to="target(notice)" @click="panel?.hide(); seen(notice)">{{ notice.subject }}</NuxtLink>
            <span class="faded small"><b v-if="!notice.readAt">New, </b>{{ ago(notice.at) }}</span>
          </li>
        </ul>
      </div>
    </Popover>
  </div>
</template>

<style scoped>
.bell { position: relative; }
.bell :deep(.p-button) { overflow: visible; }
.count { position: absolute; top: 1px; left: 22px; min-width: 18px; padding: 0 4px; border-radius: 9px; background: var(--brick); color: var(--paper); font: 650 11px/18px var(--text); font-variant-numeric: tabular-nums; text-align: center; }
.panel { width: min(400px, calc(100vw - 40px)); max-height: 70vh; overflow: auto; }
.head { display: flex; justify-content: space-between; align-items: center; margin-bottom: 6px; }
ul { list-style: none; margin: 0; padding: 0; }
li { display: grid; gap: 1px; padding: 8px 0 8px 10px; border-top: 1px solid var(--rule); border-left: 3px solid transparent; overflow-wrap: anywhere; }
li a { color: inherit; text-decoration: none; }
li a:hover { text-decoration: underline; }
.fresh { border-left-color: var(--spruce); }
.fresh a { font-weight: 600; }
</style>

<script setup lang="ts">
import { openness } from '#core/points/closing'
import { CHAT_STARTERS } from '#core/chat/starters'
import { STARTERS } from '#core/points/starters'
import { QUIZ_STARTERS } from '#core/quiz/starters'
import type { PointListing } from '#core/team'

useHead({ title: 'Forms, quizzes and chats – Cavlin' })
const session = useSession()
/** Whether what was put away is shown instead of what is in use. */
const away = ref(false)
const {
  data: points,
  problem,
  refresh,
} = useLiveQuery(
  () => api<PointListing[]>('/api/team/points', { query: away.value ? { away: true } : {} }),
  { points: true, drafts: true, leads: true },
  500,
)
const KINDS: Record<string, string> = { quiz: 'Quiz, ', chat: 'Chat, ' }
const making = ref(false)
watch(away, () => void refresh())
const copied = ref<PointListing | null>(null)
const kind = ref<'form' | 'quiz' | 'chat'>('form')
const sources = computed(() =>
  kind.value === 'chat'
    ? [{ key: '', name: 'Blank', what: 'Says hello, hands over to a person' }, ...CHAT_STARTERS]
    : kind.value === 'quiz'
      ? [{ key: '', name: 'Blank', what: 'Two outcomes, one question' }, ...QUIZ_STARTERS]
      : [{ key: '', name: 'Blank', what: 'One question, who it is' }, ...STARTERS],
)

/** That a live form takes no entries now, and why. */
function shut(point: PointListing): string {
  const how = point.closing ? openness(point.closing, Date.now(), point.entries) : 'open'
  return { open: '', early: 'Not open yet', late: 'Closed', full: 'Full' }[how]
}
function begin(copyOf: PointListing | null = null, of: 'form' | 'quiz' | 'chat' = 'form'): void {
  copied.value = copyOf
  kind.value = copyOf?.kind === 'quiz' || copyOf?.kind === 'chat' ? copyOf.kind : of
  making.value = true
}
const putAway = usePutAway(refresh)
</script>

<template>
  <div class="page">
    <StageViews :views="CAPTURE_VIEWS" called="Capture" />
    <div class="head">
      <h1>Forms, quizzes and chats</h1>
      <span v-if="points" class="faded">{{ points.filter(p => p.liveNumber).length }} live</span>
      <label class="away"><Checkbox v-model="away" binary input-id="away" /> Show what was put away</label>
      <Button v-if="session.may('edit points')" label="New chat" variant="outlined" @click="begin(null, 'chat')" />
      <Button v-if="session.may('edit points')" label="New quiz" variant="outlined" @click="begin(null, 'quiz')" />
      <Button v-if="session.may('edit points')" label="New form" @click="begin()" />
    </div>
    <p v-if="problem" class="problem" role="alert">{{ problem.message }}</p>
    <p v-if="away && points && !points.length" class="faded">Nothing was put away.</p>
    <div v-else-if="points && !points.length" class="sheet empty">
      <h2>Nothing to fill in yet</h2>
      <p class="faded">A form asks strangers who they are and what they want. Make one, put it on a page, and whoever fills it in stands
        among your leads at once.</p>
    </div>
    <div v-else-if="points" class="sheet scroll" role="region" aria-label="Forms, quizzes and chats" tabindex="0">
      <table class="figures">
        <thead>
          <tr>
            <th>Name</th>
            <th>State</th>
            <th class="n">Questions</th>
            <th class="n">Entries</th>
            <th class="n">7 days</th>
            <th>Last entry</th>
            <th><span class="unseen">What to do</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="point in points" :key="point.id">
            <td>
              <NuxtLink :to="`/capture/points/${point.id}`" class="name">{{ point.name }}</NuxtLink>
              <br>
              <span class="faded small">{{ KINDS[point.kind] ?? '' }}“{{ point.title }}”</span>
            </td>
            <td>
              <template v-if="point.liveNumber">Live, edition {{ point.liveNumber }}<br>
                <span v-if="point.changed" class="honey small">Changes not live yet</span>
                <span v-if="shut(point)" class="honey small">{{ shut(point) }}</span>
                <span v-if="point.stale" class="brick small">{{ count(point.stale, 'plain copy is', 'plain copies are') }} stale</span>
              </template>
              <span v-else class="faded">Not live</span>
            </td>
            <td class="n">{{ point.questions }}</td>
            <td class="n">
              <NuxtLink
                :to="point.kind === 'chat' ? `/learn/conversations?point=${point.id}` : `/capture/points/${point.id}/results`"
                :aria-label="`Results of ${point.name}: ${count(point.entries, 'entry', 'entries')}`"
              >
                {{ point.entries }}
              </NuxtLink>
            </td>
            <td class="n">{{ point.entriesWeek }}</td>
            <td>{{ point.lastEntryAt ? ago(point.lastEntryAt) : '–' }}</td>
            <td class="do">
              <a v-if="point.liveNumber && !away" :href="`/p/${point.slug}`" target="_blank" rel="noopener">Its page</a>
              <a :href="`/api/team/points/${point.id}/file`" download :aria-label="`${point.name} as a file`">As a file</a>
              <Button
                v-if="session.may('edit points')"
                label="Copy"
                variant="text"
                size="small"
                severity="secondary"
                @click="begin(point)"
              />
              <Button
                v-if="session.may('edit points')"
                :label="away ? 'Bring back' : 'Put away'"
                variant="text"
                size="small"
                severity="secondary"
                @click="putAway(point, !away)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <NewPoint
      v-model:visible="making"
      :kind="kind"
      :sources="sources"
      :copied="copied"
      :names="(points ?? []).map(p => p.name)"
      :example="kind === 'chat' ? 'Ask the grower' : kind === 'quiz' ? 'Which house suits you' : 'Open day, spring'"
    />
  </div>
</template>

<style scoped>
.away { margin-left: auto; display: flex; gap: 7px; align-items: center; }
th, td { padding: 9px 14px; border-bottom: 1px solid var(--rule); vertical-align: top; }
tr:last-child td { border-bottom: 0; }
.name { font-weight: 600; }
.honey { color: var(--honey); }
td .small { display: block; }
.do { text-align: right; white-space: nowrap; }
.do a { margin-left: 12px; }
.do .p-button { margin-left: 8px; }
.problem { color: var(--brick); min-height: 22px; }
</style>

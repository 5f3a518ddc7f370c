<script setup lang="ts">
import type { LiveVisitView } from '#core/team'
import { hereAt, stayedAt, type Stay } from '#core/trail/here'

useHead({ title: 'On the site now – Cavlin' })
const house = useHouse()
const { data: visits, problem, refresh } = useLiveQuery(() => api<LiveVisitView[]>('/api/team/visits'), { trail: true }, 900)
/** Where made-up people are sent over the demo's site. */
const strollers = ref('')
onMounted(async () => {
  const { site } = await api<{ site: string | null }>('/api/demo').catch(() => ({ site: null }))
  strollers.value = site ? `${site}/visitors` : ''
})
// Who does nothing leaves without a word.
const leaving = setInterval(() => void refresh(), 30_000)
onScopeDispose(() => clearInterval(leaving))
const now = useNow(1000)
/** To whom one of us speaks first. */
const session = useSession()
const say = useToasts()
const speaksTo = ref<LiveVisitView | null>(null)
const words = ref('')
async function speak(): Promise<void> {
  if (!words.value.trim()) return
  try {
    const { id } = await api<{ id: string }>(`/api/team/visits/${speaksTo.value!.id}/speak`, {
      method: 'POST',
      body: { text: words.value },
    })
    speaksTo.value = null
    words.value = ''
    await navigateTo({ path: '/follow-up/conversations', query: { heap: 'mine', of: id } })
  } catch (error) {
    say.failed(error)
  }
}
const stay = (v: LiveVisitView): Stay => ({
  beganAt: Date.parse(v.beganAt),
  lastAt: Date.parse(v.lastAt),
  goneAt: v.goneAt === null ? null : Date.parse(v.goneAt),
})
const isThere = (v: LiveVisitView) => hereAt(stay(v), now.value) === 'here'
/** Who has left goes at once, without being asked for again. */
const present = computed(() => (visits.value ?? []).filter(v => hereAt(stay(v), now.value) !== 'gone'))
/** Page by page: where most are, first; and who is there for sure before who may have gone. */
const pages = computed(() => {
  const by = new Map<string, { key: string; title: string; path: string; visits: LiveVisitView[] }>()
  for (const v of present.value) {
    const key = v.site + v.path
    const page = by.get(key) ?? { key, title: v.title ?? v.path, path: v.path, visits: [] }
    by.set(key, page)
    page.visits.push(v)
  }
  const sureAt = (p: { visits: LiveVisitView[] }) => p.visits.filter(isThere).length
  for (const page of by.values()) page.visits.sort((a, b) => Number(isThere(b)) - Number(isThere(a)))
  return [...by.values()].sort((a, b) => sureAt(b) - sureAt(a) || b.visits.length - a.visits.length || (a.key < b.key ? -1 : 1))
})
const sure = computed(() => present.value.filter(isThere))
const named = computed(() => sure.value.filter(v => v.lead).length)
</script>

<template>
  <div class="page">
    <StageViews :views="CAPTURE_VIEWS" called="Capture" />
    <div class="head">
      <h1>On the site now</h1>
      <span v-if="visits" class="faded">
        {{ count(sure.length, 'person', 'people') }}<template v-if="named">, {{ named }} known by name</template>
        <template v-if="present.length > sure.length">; {{ present.length - sure.length }} perhaps gone</template>
      </span>
      <a v-if="strollers" :href="strollers" target="_blank" rel="noopener" class="send">Send visitors over the demo’s site</a>
    </div>
    <p v-if="problem && !visits" role="alert" class="brick">{{ problem.message }}</p>
    <div v-if="visits && !present.length" class="sheet empty">
      <h2>Nobody is there just now</h2>
      <p class="faded">Whoever agreed to be remembered shows up here while they read: page by page, as it happens. Who closes the page is
        gone at once; who says nothing for a minute may be.</p>
    </div>
    <section v-for="p in pages" :key="p.key" class="sheet place" :aria-label="`${p.title}, ${p.key.replace(/^\w+:\/\//, '')}`">
      <h2>{{ p.title }} <span class="faded small">{{ p.path }}</span></h2>
      <ul>
        <li v-for="v in p.visits" :key="v.id">
          <div class="who">
            <span class="dot" :class="{ on: isThere(v) }" aria-hidden="true" />
            <LeadPin v-if="v.lead" :fit="v.lead.fit" :interest="v.lead.interest" :reasons="[]" />
            <NuxtLink v-if="v.lead" :to="`/follow-up/leads/${v.lead.id}`"><b>{{ v.lead.name }}</b></NuxtLink>
            <span v-else>Somebody</span>
            <span class="faded small">
              {{ cameFrom(v.source) }},
              {{ v.device === 'other' ? 'some device' : v.device }}<template v-if="v.place">, {{ v.place }}</template>
            </span>
            <span v-if="v.lead" class="small faded">
              {{ house.labelName(v.lead.label) }}<template v-if="v.lead.owner">, {{ v.lead.owner }}’s</template>
            </span>
            <Button
              v-if="session.may('work leads') && isThere(v)"
              label="Speak to them"
              :aria-label="`Speak to ${v.lead?.name ?? 'somebody'} on ${p.title}`"
              size="small"
              variant="text"
              @click="speaksTo = v"
            />
            <span class="since small faded">
              {{ duration(stayedAt(stay(v), now)) }} here<template v-if="!isThere(v)">, perhaps gone</template>
            </span>
          </div>
          <VisitPages :pages="v.pages" />
        </li>
      </ul>
    </section>
    <Dialog
      :visible="speaksTo !== null"
      modal
      :header="`Speak to ${speaksTo?.lead?.name ?? 'somebody'} first`"
      :style="{ width: '26rem' }"
      dismissable-mask
      @update:visible="speaksTo = null"
    >
      <form class="speak" @submit.prevent="speak">
        <label for="speak-words">What you say</label>
        <Textarea id="speak-words" v-model="words" rows="3" maxlength="2000" fluid />
        <p class="small faded">It stands beside the tab of the chat with their next sign of life, in your name. What they answer comes to
          your conversations.</p>
        <Button type="submit" label="Say it" :disabled="!words.trim()" />
      </form>
    </Dialog>
  </div>
</template>

<style scoped>
.send { margin-inline-start: auto; }
.page { max-width: 1100px; margin: 0 auto; display: grid; gap: 14px; }
.head { display: flex; flex-wrap: wrap; gap: 4px 14px; align-items: baseline; }
.place { padding: 12px 16px; }
.place h2 { font-size: 16px; line-height: 22px; }
ul { list-style: none; margin: 0; padding: 0; }
li { padding: 8px 0; border-top: 1px solid var(--rule); min-width: 0; }
ul li:first-child { border-top: 0; }
.who { display: flex; flex-wrap: wrap; gap: 2px 10px; align-items: center; }
.since { margin-left: auto; font-variant-numeric: tabular-nums; }
.dot { width: 9px; height: 9px; border: 2px solid var(--faded); border-radius: 50%; }
.dot.on { border-color: var(--spruce); background: var(--spruce); }
.empty { padding: 24px; }
.speak { display: grid; gap: 6px; justify-items: start; } .speak :deep(textarea) { width: 100%; }
</style>

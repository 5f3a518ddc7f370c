<script setup lang="ts">
import type { LiveVisitView } from '#core/team'

useHead({ title: 'On the site now – Cavlin' })
const house = useHouse()
const { data: review } = useReview()
const views = useCaptureViews(review)
const { data: visits, problem, refresh } = useLiveQuery(() => api<LiveVisitView[]>('/api/team/visits'), { trail: true }, 900)
// Who does nothing leaves without a word.
const leaving = setInterval(() => void refresh(), 30_000)
onScopeDispose(() => clearInterval(leaving))
const now = useNow(1000)
const CALM_MS = 60_000
const active = (v: LiveVisitView) => now.value - Date.parse(v.lastAt) < CALM_MS
/** Page by page: where most are, first. */
const pages = computed(() => {
  const by = new Map<string, { key: string; title: string; path: string; visits: LiveVisitView[] }>()
  for (const v of visits.value ?? []) {
    const key = v.site + v.path
    const page = by.get(key) ?? { key, title: v.title ?? v.path, path: v.path, visits: [] }
    by.set(key, page)
    page.visits.push(v)
  }
  return [...by.values()].sort((a, b) => b.visits.length - a.visits.length || (a.key < b.key ? -1 : 1))
})
const named = computed(() => visits.value?.filter(v => v.lead).length ?? 0)
</script>

<template>
  <div class="page">
    <StageViews :views="views" called="Capture" />
    <div class="head">
      <h1>On the site now</h1>
      <span v-if="visits" class="faded">{{ count(visits.length, 'person', 'people') }}<template v-if="named">, {{ named }} known by name</template></span>
    </div>
    <p v-if="problem && !visits" role="alert" class="brick">{{ problem.message }}</p>
    <div v-if="visits && !visits.length" class="sheet empty"><h2>Nobody is there just now</h2><p class="faded">Whoever agreed to be remembered shows up here while they read: page by page, as it happens. Who stays still for five minutes has left.</p></div>
    <section v-for="p in pages" :key="p.key" class="sheet place" :aria-label="`${p.title}, ${p.key.replace(/^\w+:\/\//, '')}`">
      <h2>{{ p.title }} <span class="faded small">{{ p.path }}</span></h2>
      <ul>
        <li v-for="v in p.visits" :key="v.id">
          <div class="who">
            <span class="dot" :class="{ on: active(v) }" :title="active(v) ? 'Active' : 'Quiet for a minute'" />
            <LeadPin v-if="v.lead" :fit="v.lead.fit" :interest="v.lead.interest" :reasons="[]" />
            <NuxtLink v-if="v.lead" :to="`/follow-up/leads/${v.lead.id}`"><b>{{ v.lead.name }}</b></NuxtLink>
            <span v-else>Somebody</span>
            <span class="faded small">{{ cameFrom(v.source) }}, {{ v.device === 'other' ? 'some device' : v.device }}<template v-if="v.place">, {{ v.place }}</template></span>
            <span v-if="v.lead" class="small faded">{{ house.labelName(v.lead.label) }}<template v-if="v.lead.owner">, {{ v.lead.owner }}’s</template></span>
            <span class="since small faded">{{ duration(Math.max(0, (now - Date.parse(v.beganAt)) / 1000)) }} here</span>
          </div>
          <VisitPages :pages="v.pages" />
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
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
</style>

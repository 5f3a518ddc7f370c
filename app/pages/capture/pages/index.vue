<script setup lang="ts">
import { PAGE_STARTERS } from '#core/pages/starters'
import type { PageListing } from '#core/team'

useHead({ title: 'Pages – Cavlin' })
const session = useSession()
/** Whether what was put away is shown instead of what is in use. */
const away = ref(false)
const {
  data: pages,
  problem,
  refresh,
} = useLiveQuery(
  () => api<PageListing[]>('/api/team/pages', { query: away.value ? { away: true } : {} }),
  { points: true, drafts: true, leads: true },
  500,
)
const making = ref(false)
watch(away, () => void refresh())
const copied = ref<PageListing | null>(null)
const mayEdit = computed(() => session.may('edit points'))
const sources = [{ key: '', name: 'Blank', what: 'A heading and a form' }, ...PAGE_STARTERS]

function begin(copyOf: PageListing | null = null): void {
  copied.value = copyOf
  making.value = true
}
const putAway = usePutAway(refresh)
</script>

<template>
  <div class="page">
    <StageViews :views="CAPTURE_VIEWS" called="Capture" />
    <div class="head">
      <h1>Pages</h1>
      <span v-if="pages" class="faded">{{ pages.filter(p => p.liveNumber).length }} live</span>
      <label class="away"><Checkbox v-model="away" binary input-id="away" /> Show what was put away</label>
      <Button v-if="mayEdit" label="New page" @click="begin()" />
    </div>
    <p v-if="problem" class="brick" role="alert">{{ problem.message }}</p>
    <p v-if="away && pages && !pages.length" class="faded">Nothing was put away.</p>
    <div v-else-if="pages && !pages.length" class="sheet empty">
      <h2>No page yet</h2>
      <p class="faded">A landing page is for one thing only: what somebody gets, why it is good, and a form to ask for it. Make one, choose
        the form that stands on it, and send people to its address.</p>
      <Button v-if="mayEdit" label="Make the first one" @click="begin()" />
    </div>
    <div v-else-if="pages" class="sheet scroll" role="region" aria-label="Pages" tabindex="0">
      <table class="figures">
        <thead>
          <tr>
            <th>Page</th>
            <th>State</th>
            <th>Form on it</th>
            <th class="n">Entries</th>
            <th class="n">7 days</th>
            <th>Last entry</th>
            <th><span class="unseen">What to do</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="page in pages" :key="page.id">
            <td>
              <NuxtLink :to="`/capture/pages/${page.id}`" class="name">{{ page.name }}</NuxtLink>
              <br>
              <span class="faded small">“{{ page.title }}”</span>
            </td>
            <td>
              <template v-if="page.liveNumber">Live, edition
                {{ page.liveNumber }}<span v-if="page.changed" class="honey small">Changes not live yet</span>
              </template>
              <span v-else class="faded">Not live</span>
            </td>
            <td>
              <NuxtLink v-if="page.point" :to="`/capture/points/${page.point.id}`">{{ page.point.name }}</NuxtLink>
              <span v-else class="faded">none yet</span>
            </td>
            <td class="n">
              <NuxtLink
                :to="`/capture/pages/${page.id}/results`"
                :aria-label="`Results of ${page.name}: ${count(page.entries, 'entry', 'entries')}`"
              >
                {{ page.entries }}
              </NuxtLink>
            </td>
            <td class="n">{{ page.entriesWeek }}</td>
            <td>{{ page.lastEntryAt ? ago(page.lastEntryAt) : '–' }}</td>
            <td class="do">
              <a v-if="page.liveNumber && !away" :href="`/p/${page.slug}`" target="_blank" rel="noopener">See it</a>
              <a :href="`/api/team/points/${page.id}/file`" download :aria-label="`${page.name} as a file`">As a file</a>
              <template v-if="mayEdit">
                <Button
                  label="Copy"
                  variant="text"
                  size="small"
                  severity="secondary"
                  :aria-label="`Copy ${page.name}`"
                  @click="begin(page)"
                />
                <Button
                  :label="away ? 'Bring back' : 'Put away'"
                  variant="text"
                  size="small"
                  severity="secondary"
                  :aria-label="away ? `Bring ${page.name} back` : `Put ${page.name} away`"
                  @click="putAway(page, !away)"
                />
              </template>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <NewPoint
      v-model:visible="making"
      kind="page"
      :sources="sources"
      :copied="copied"
      :names="(pages ?? []).map(p => p.name)"
      example="Guide, autumn"
    />
  </div>
</template>

<style scoped>
.away { margin-left: auto; display: flex; gap: 7px; align-items: center; }
th, td { padding: 9px 14px; border-bottom: 1px solid var(--rule); vertical-align: top; }
tr:last-child td { border-bottom: 0; }
.name { font-weight: 600; }
.honey { color: var(--honey); display: block; }
.do a { margin-left: 12px; }
.do { text-align: right; white-space: nowrap; }
.do .p-button { margin-left: 8px; }
.empty { display: grid; gap: 10px; justify-items: start; }
</style>

<script setup lang="ts">
import type { FirmView } from '#core/team'

/** A firm: all its people, who answers for them, and what happened. `id`: one of its people. */
const route = useRoute()
const house = useHouse()
const id = computed(() => String(route.params.id))
const { data, problem } = useLiveQuery(() => api<FirmView>(`/api/team/leads/${id.value}/firm`), { leads: true }, 3000)
useHead({ title: () => `${data.value?.name ?? 'A firm'} – Cavlin` })
watch(data, now => {
  if (now) keepWay({ from: route.fullPath, called: now.name, leads: now.people.map(p => p.id) })
})
/** Who answers for its people, and for how many. */
const owners = computed(() => {
  const by = new Map<string, number>()
  for (const { owner } of data.value?.people ?? []) by.set(owner?.name ?? 'Nobody', (by.get(owner?.name ?? 'Nobody') ?? 0) + 1)
  return [...by].sort((a, b) => b[1] - a[1])
})
const won = computed(() =>
  (data.value?.people ?? []).reduce(
    (sum, p) => sum + (house.words!.statuses.find(s => s.key === p.status)?.stage === 'won' ? (p.outcome?.value ?? 0) : 0),
    0,
  ),
)
</script>

<template>
  <div class="firm">
    <p class="back"><NuxtLink :to="`/follow-up/leads/${id}`">Back to the lead</NuxtLink></p>
    <p v-if="problem && !data" role="alert" class="brick">{{ problem.message }}</p>
    <template v-if="data">
      <h1>{{ data.name }}</h1>
      <p class="faded">
        {{ count(data.people.length, 'person', 'people') }}<template v-if="data.domain"> of {{ data.domain }}</template>.
        {{ owners.map(([name, n]) => `${name}: ${n}`).join(', ') }}.<template v-if="won"> Won: {{ house.money(won) }}.</template>
      </p>
      <div class="columns">
        <section aria-labelledby="people">
          <h2 id="people">People</h2>
          <ul class="people">
            <li v-for="p in data.people" :key="p.id">
              <LeadPin :fit="p.fit" :interest="p.interest" :reasons="p.reasons" />
              <span>
                <NuxtLink :to="`/follow-up/leads/${p.id}`"><b>{{ p.name }}</b></NuxtLink>
                <span class="faded small">{{ p.email }}</span>
              </span>
              <span class="stands">
                <span>{{ house.statusName(p.status) }}</span>
                <span class="faded small">{{ p.owner?.name ?? 'Nobody' }}</span>
              </span>
              <LabelMark :label="p.label" />
            </li>
          </ul>
        </section>
        <section aria-labelledby="happened">
          <h2 id="happened">What happened</h2>
          <p v-if="data.toldOf < data.people.length" class="faded small">Of the {{ data.toldOf }} people whom something happened to
            last.</p>
          <ol class="happened">
            <li v-for="line in data.happened" :key="line.id">
              <time :datetime="line.at" class="faded small">{{ ago(line.at) }}</time>
              <span>
                <NuxtLink :to="`/follow-up/leads/${line.lead.id}`">{{ line.lead.name }}</NuxtLink>:
                <TimelineSentence :sentence="line.sentence" />
              </span>
            </li>
          </ol>
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.firm { max-width: 1180px; margin: 0 auto; }
.back { min-height: 30px; margin-bottom: 8px; }
.columns { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); gap: 32px; margin-top: 16px; align-items: start; }
ul, ol { list-style: none; margin: 8px 0 0; padding: 0; }
.people li { display: grid; grid-template-columns: 16px minmax(0, 1fr) max-content max-content; gap: 10px; align-items: center; padding: 8px 0; border-top: 1px solid var(--rule); overflow-wrap: anywhere; }
.people :deep(.label) { white-space: nowrap; }
.people li > span { display: grid; } .stands { text-align: right; }
.people a { color: inherit; text-decoration: none; } .people a:hover { text-decoration: underline; }
.happened li { display: grid; grid-template-columns: 104px minmax(0, 1fr); gap: 12px; padding: 6px 0; border-top: 1px solid var(--rule); overflow-wrap: anywhere; }
@media (max-width: 900px) { .columns { grid-template-columns: minmax(0, 1fr); } }
@media (max-width: 560px) { .people li { grid-template-columns: 16px minmax(0, 1fr) auto; } .people li > :last-child { display: none; } .happened li { grid-template-columns: 1fr; gap: 0; } }
</style>

<script setup lang="ts">
/** The people behind a figure, by their ids. */
const props = defineProps<{ ids: string[]; says: string }>()
const MOST = 50
interface Brief {
  id: string
  name: string
  company: string | null
  fit: number
  interest: number
  label: string | null
  owner: string | null
}
const people = ref<Brief[]>([])
const problem = ref('')
watch(
  () => props.ids,
  async ids => {
    problem.value = ''
    try {
      people.value = ids.length
        ? (await api<{ leads: Brief[] }>('/api/team/leads/brief', { query: { ids: ids.slice(0, MOST).join(',') } })).leads
        : []
    } catch (error) {
      problem.value = (error as Error).message
    }
  },
  { immediate: true },
)
</script>

<template>
  <section class="sheet behind" :aria-label="says">
    <h3>{{ says }} <span class="faded figures">{{ ids.length }}</span></h3>
    <p v-if="problem" role="alert" class="brick">{{ problem }}</p>
    <ul>
      <li v-for="p in people" :key="p.id">
        <LeadPin :fit="p.fit" :interest="p.interest" :reasons="[]" />
        <span><NuxtLink :to="`/follow-up/leads/${p.id}`">{{ p.name }}</NuxtLink> <span class="faded">{{ p.company }}</span></span>
        <LabelMark :label="p.label" />
      </li>
    </ul>
    <p v-if="ids.length > people.length && people.length" class="faded small">The first {{ people.length }} of {{ ids.length }}.</p>
  </section>
</template>

<style scoped>
.behind { padding: 12px 16px; } ul { list-style: none; margin: 6px 0 0; padding: 0; } li { display: flex; gap: 10px; align-items: center; padding: 5px 0; border-top: 1px solid var(--rule); overflow-wrap: anywhere; } li > span:nth-child(2) { flex: 1; min-width: 0; }
</style>

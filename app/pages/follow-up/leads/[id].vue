<script setup lang="ts">
const route = useRoute()
const router = useRouter()
const id = computed(() => String(route.params.id))
const way = computed(() => wayOf(id.value))
const go = (lead: string | null | undefined) => {
  if (lead) void router.push(`/follow-up/leads/${lead}`)
}
useKeys({ j: () => go(way.value?.next), k: () => go(way.value?.previous) })
</script>

<template>
  <div class="page">
    <p class="back">
      <NuxtLink :to="way?.from ?? '/follow-up'">{{ way?.called ?? 'All leads' }}</NuxtLink>
      <span v-if="way" class="steps small">
        <span class="faded figures">{{ way.at }} of {{ way.of }}</span>
        <Button label="Previous" variant="text" size="small" :disabled="!way.previous" @click="go(way.previous)" />
        <Button label="Next" variant="text" size="small" :disabled="!way.next" @click="go(way.next)" />
      </span>
    </p>
    <div class="sheet"><LeadDetail :id="id" :key="id" heading="h1" /></div>
  </div>
</template>

<style scoped>
.page { max-width: 1180px; margin: 0 auto; }
.back { display: flex; justify-content: space-between; align-items: center; min-height: 30px; margin-bottom: 8px; }
.steps { display: flex; align-items: center; gap: 4px; }
.sheet { padding: 18px 22px; }
@media (max-width: 700px) { .sheet { padding: 14px 12px; } }
</style>

<script setup lang="ts">
useHead({ title: 'Lead – Cavlin' })
const route = useRoute()
const id = computed(() => String(route.params.id))
</script>

<template>
  <div class="page">
    <p class="back"><NuxtLink to="/follow-up">All leads</NuxtLink></p>
    <div class="sheet"><LeadDetail :id="id" :key="id" heading="h1" /></div>
  </div>
</template>

<style scoped>
.page { max-width: 1180px; margin: 0 auto; }
.back { margin-bottom: 8px; }
.sheet { padding: 18px 22px; }
@media (max-width: 700px) { .sheet { padding: 14px 12px; } }
</style>

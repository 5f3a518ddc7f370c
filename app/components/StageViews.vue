<script setup lang="ts">
/** The quiet row of a stage's views. */
defineProps<{ views: { path: string; name: string; count?: number }[]; called: string }>()
const route = useRoute()
</script>

<template>
  <nav class="views" :aria-label="called">
    <NuxtLink v-for="view in views" :key="view.path" :to="view.path" :aria-current="route.path === view.path ? 'page' : undefined">
      {{ view.name }}<b v-if="view.count">{{ view.count }}</b>
    </NuxtLink>
  </nav>
</template>

<style scoped>
.views { display: flex; flex-wrap: wrap; gap: 2px 20px; margin-bottom: 12px; font-size: 14px; line-height: 20px; }
a { color: var(--faded); text-decoration: none; padding: 2px 0; border-bottom: 2px solid transparent; }
a:hover { color: var(--ink); }
a[aria-current] { color: var(--ink); border-bottom-color: var(--spruce); }
b { margin-left: 6px; font-weight: 600; color: var(--honey); font-variant-numeric: tabular-nums; }
</style>

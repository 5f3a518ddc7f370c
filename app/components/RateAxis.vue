<script setup lang="ts">
/** The scale of a column of rates: where nothing, the middle and the end of their bars lie. */
defineProps<{ full: number }>()
</script>

<template>
  <span class="axis" aria-hidden="true">
    <span class="track"><span>0</span><span>{{ percent(full / 2) }}</span><span>{{ percent(full) }}</span></span>
    <span class="words" />
  </span>
</template>

<style scoped>
.axis { display: flex; gap: 12px; font-size: 12px; line-height: 16px; font-weight: 400; color: var(--faded); }
.track { flex: 1; min-width: 70px; display: flex; justify-content: space-between; border-bottom: 1px solid var(--rule); } .words { width: 8.4rem; flex: none; }
</style>

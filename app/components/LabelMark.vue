<script setup lang="ts">
/** A label as a word with a small rule that is longer the higher the label stands. */
const props = defineProps<{ label: string | null }>()
const house = useHouse()
const rank = computed(() => (house.words?.labels.findIndex(l => l.key === props.label) ?? -1) + 1)
const ranks = computed(() => house.words?.labels.length ?? 1)
</script>

<template>
  <span class="label" :class="{ faded: rank === 0 }">
    <span class="rule" aria-hidden="true"><span :style="{ width: `${100 * rank / ranks}%` }" /></span>{{ house.labelName(label) }}
  </span>
</template>

<style scoped>
.label { display: inline-flex; align-items: center; vertical-align: middle; gap: 7px; white-space: nowrap; }
.rule { width: 18px; height: 3px; background: var(--rule); flex: none; }
.rule span { display: block; height: 100%; background: var(--spruce); }
</style>

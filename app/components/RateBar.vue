<script setup lang="ts">
import type { Proportion } from '#core/stats/proportion'

/** A rate as a dot on the bar of its likely range. */
const props = withDefaults(defineProps<{ value: Proportion; hits: number; trials: number; full?: number }>(), { full: 1 })
const at = (share: number) => `${Math.min(100, (100 * share) / props.full)}%`
</script>

<template>
  <span v-if="value.tooFew" class="faded">{{ hits }} of {{ trials }}, too few to tell</span>
  <span v-else class="rate">
    <span class="track" aria-hidden="true">
      <span class="range" :style="{ left: at(value.low), width: `calc(${at(value.high)} - ${at(value.low)})` }" />
      <span class="dot" :style="{ left: at(value.rate) }" />
    </span>
    <span class="words">
      <b>{{ percent(value.rate) }}</b> <span class="faded small">{{ percent(value.low) }} to {{ percent(value.high) }}</span>
    </span>
  </span>
</template>

<style scoped>
.rate { display: inline-flex; align-items: center; gap: 12px; width: 100%; font-variant-numeric: tabular-nums; }
.track { position: relative; flex: 1; min-width: 70px; height: 12px; border-bottom: 1px solid var(--rule); }
.range { position: absolute; top: 3px; height: 6px; background: color-mix(in srgb, var(--slate) 35%, transparent); }
.dot { position: absolute; top: 1px; width: 10px; height: 10px; margin-left: -5px; border-radius: 50%; background: var(--slate); }
.words { flex: none; width: 8.4rem; white-space: nowrap; }
</style>

<script setup lang="ts">
import type { Reason } from '#core/scoring/lines'

/** Where a lead stands: interest runs right, fit runs up. Asked, it gives its reasons. */
const props = withDefaults(defineProps<{ fit: number; interest: number; reasons?: Reason[]; size?: number; quiet?: boolean }>(), {
  size: 16,
  reasons: () => [],
})
const FULL = 100
const inside = (n: number) => Math.min(1, Math.max(0, n / FULL))
const x = computed(() => 2.2 + inside(props.interest) * 11.6)
const y = computed(() => 13.8 - inside(props.fit) * 11.6)
const words = computed(() => `Fit ${props.fit}, interest ${props.interest}`)
const tip = computed(() => {
  const lines = (axis: 'fit' | 'interest') =>
    props.reasons
      .filter(r => r.axis === axis && r.now !== 0)
      .slice(-5)
      .map(r => `${r.now > 0 ? '+' : ''}${r.now}  ${r.name}`)
  return [`Fit ${props.fit}`, ...lines('fit'), '', `Interest ${props.interest}`, ...lines('interest')].join('\n')
})
</script>

<template>
  <span
    v-tooltip.bottom="quiet ? undefined : { value: tip, showDelay: 150 }"
    class="pin"
    role="img"
    :aria-label="words"
    :tabindex="quiet ? undefined : 0"
  >
    <svg :width="size" :height="size" viewBox="0 0 16 16" aria-hidden="true">
      <rect x="0.5" y="0.5" width="15" height="15" class="box" />
      <path d="M5.5 1v14M10.5 1v14M1 5.5h14M1 10.5h14" class="thirds" />
      <circle :cx="x" :cy="y" r="2.2" class="dot" />
    </svg>
  </span>
</template>

<style scoped>
.pin { display: inline-flex; vertical-align: -2px; flex: none; }
.box { fill: var(--sheet); stroke: var(--faded); stroke-width: 0.8; }
.thirds { stroke: var(--rule); stroke-width: 0.6; }
.dot { fill: var(--spruce); }
</style>

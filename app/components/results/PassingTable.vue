<script setup lang="ts">
import type { PassingOf } from '#core/results/results'

/** How many saw, began and sent, row by row, with the share of who saw it. */
const props = defineProps<{
  /** What a row is. */
  of: string
  called: string
  /** Whether looks are counted. */
  looks: boolean
  /** Some finished without saying who they are. */
  nameless?: boolean
  rows: (PassingOf & { name: string })[]
}>()
/** All shares are drawn on one scale. */
const full = computed(() => Math.max(0.05, ...props.rows.filter(r => !r.rate.tooFew).map(r => r.rate.high)))
</script>

<template>
  <div class="scroll" tabindex="0" role="region" :aria-label="called">
    <table class="figures">
      <thead>
        <tr>
          <th>{{ of }}</th>
          <th v-if="looks" class="n">Seen</th>
          <th v-if="looks" class="n">Begun</th>
          <th v-if="nameless" class="n">Finished</th>
          <th class="n">{{ nameless ? 'Left an address' : 'Sent' }}</th>
          <th v-if="looks">of who saw it</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.name">
          <td class="where">{{ r.name }}</td>
          <td v-if="looks" class="n">{{ r.seen }}</td>
          <td v-if="looks" class="n">{{ r.begun }}</td>
          <td v-if="nameless" class="n">{{ r.sent + r.nameless }}</td>
          <td class="n">{{ r.sent }}</td>
          <td v-if="looks" class="share"><RateBar :value="r.rate" :hits="r.counted" :trials="r.seen" :full="full" /></td>
        </tr>
        <tr v-if="!rows.length">
          <td colspan="6" class="faded">Nobody in this time.</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
td, th { padding: 6px 14px 6px 0; border-bottom: 1px solid var(--rule); }
.share { width: 34%; min-width: 190px; }
.where { overflow-wrap: anywhere; }
</style>

<script setup lang="ts">
import type { DryRunResult } from '#core/scoring/dry-run'

/** Who goes from which label to which: rows are the labels that people carry, columns those that they would; each figure opens its people. */
const props = defineProps<{ flows: DryRunResult['flows']; chosen: { from: string | null; to: string | null } | null }>()
const emit = defineEmits<{ open: [from: string | null, to: string | null] }>()
const house = useHouse()
const labels = computed<(string | null)[]>(() => [...house.words!.labels.map(l => l.key).reverse(), null])
const cell = (from: string | null, to: string | null) => props.flows.find(f => f.from === from && f.to === to)?.leads ?? 0
const sum = (of: (f: DryRunResult['flows'][number]) => boolean) => props.flows.filter(of).reduce((n, f) => n + f.leads, 0)
const rank = (label: string | null) => (label === null ? -1 : house.words!.labels.findIndex(l => l.key === label))
const isChosen = (from: string | null, to: string | null) => props.chosen?.from === from && props.chosen.to === to
const moves = computed(() => ({
  up: sum(f => rank(f.to) > rank(f.from)),
  down: sum(f => rank(f.to) < rank(f.from)),
  stay: sum(f => f.to === f.from),
}))
const direction = (from: string | null, to: string | null) => (rank(to) > rank(from) ? 'up' : rank(to) < rank(from) ? 'down' : 'stay')
const WORDS = { up: 'rise', down: 'fall', stay: 'stay' }
</script>

<template>
  <div>
    <p class="moves">
      <b>{{ moves.up.toLocaleString('en') }}</b> would rise, <b>{{ moves.down.toLocaleString('en') }}</b> would fall,
      {{ moves.stay.toLocaleString('en') }} would stay.
    </p>
    <div class="scroll" tabindex="0" role="region" aria-label="Figures from label to label">
      <table class="figures flows">
        <caption class="unseen">
          People by the label that they carry and the one that they would carry
        </caption>
        <thead>
          <tr>
            <th scope="col">Carries now</th>
            <th v-for="to in labels" :key="String(to)" scope="col" class="n">{{ house.labelName(to) }}</th>
            <th scope="col" class="n">Together</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="from in labels" :key="String(from)">
            <th scope="row"><LabelMark :label="from" /></th>
            <td v-for="to in labels" :key="String(to)" class="n" :class="[direction(from, to), { chosen: isChosen(from, to) }]">
              <button
                v-if="cell(from, to)"
                type="button"
                :aria-pressed="isChosen(from, to)"
                :aria-label="`${cell(from, to)} ${WORDS[direction(from, to)]}: from ${house.labelName(from)} to ${house.labelName(to)}`"
                @click="emit('open', from, to)"
              ><span v-if="direction(from, to) === 'up'" aria-hidden="true" class="faded">↑ </span>
                <span v-else-if="direction(from, to) === 'down'" aria-hidden="true" class="faded">↓ </span>{{ cell(from, to).toLocaleString('en') }}</button>
              <span v-else class="faded" aria-hidden="true">·</span>
            </td>
            <td class="n">{{ sum(f => f.from === from).toLocaleString('en') }}</td>
          </tr>
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">Would carry</th>
            <td v-for="to in labels" :key="String(to)" class="n">{{ sum(f => f.to === to).toLocaleString('en') }}</td>
            <td class="n">{{ sum(() => true).toLocaleString('en') }}</td>
          </tr>
        </tfoot>
      </table>
    </div>
  </div>
</template>

<style scoped>
.moves {
  margin: 0 0 8px;
}
td,
th {
  padding: 5px 6px;
  border-bottom: 1px solid var(--rule);
  text-align: right;
  font-weight: 400;
  white-space: nowrap;
}
th:first-child {
  text-align: left;
  padding-left: 6px;
}
thead th {
  font-weight: 600;
  white-space: normal;
  vertical-align: bottom;
}
tfoot th,
tfoot td {
  border-top: 1px solid var(--faded);
  font-weight: 650;
}
.stay {
  background: var(--wash);
}
button {
  all: unset;
  min-width: 2.6em;
  padding: 2px 5px;
  color: var(--spruce);
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
  text-align: right;
}
button:focus-visible {
  outline: 2px solid var(--spruce);
}
.chosen {
  box-shadow: inset 0 0 0 2px var(--spruce);
}
</style>

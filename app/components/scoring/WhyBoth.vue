<script setup lang="ts">
import type { WhyUnderBoth } from '#core/team'

/** The points of a lead by two cards, rule by rule; each column adds up. */
const props = defineProps<{ why: WhyUnderBoth }>()
const AXES = [
  { key: 'fit', name: 'Fit' },
  { key: 'interest', name: 'Interest' },
] as const
const parts = computed(() =>
  AXES.map(({ key, name }) => {
    const rows = new Map<string, { name: string; live: number | null; tried: number | null }>()
    for (const side of ['live', 'tried'] as const)
      for (const line of props.why[side].reasons.filter(r => r.axis === key)) {
        const row = rows.get(line.rule) ?? { name: line.name, live: null, tried: null }
        row[side] = (row[side] ?? 0) + line.now
        rows.set(line.rule, row)
      }
    return { key, name, rows: [...rows.values()], live: props.why.live[key], tried: props.why.tried[key] }
  }),
)
</script>

<template>
  <div class="scroll" tabindex="0" role="region" :aria-label="`Both cards, for ${why.name}`">
    <table class="figures why">
      <caption>
        Why, for
        {{
          why.name
        }}
      </caption>
      <thead>
        <tr>
          <th scope="col">Rule</th>
          <th scope="col" class="n">Live</th>
          <th scope="col" class="n">Tried</th>
        </tr>
      </thead>
      <tbody v-for="part in parts" :key="part.key">
        <tr v-for="row in part.rows" :key="row.name" :class="{ other: row.live !== row.tried }">
          <td>{{ row.name }}</td>
          <td class="n">{{ row.live ?? '–' }}</td>
          <td class="n">{{ row.tried ?? '–' }}</td>
        </tr>
        <tr class="sum">
          <th scope="row">{{ part.name }} together</th>
          <td class="n">{{ part.live }}</td>
          <td class="n">{{ part.tried }}</td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <th scope="row">Label</th>
          <td class="n"><LabelMark :label="why.live.label" /></td>
          <td class="n"><LabelMark :label="why.tried.label" /></td>
        </tr>
      </tfoot>
    </table>
  </div>
</template>

<style scoped>
caption {
  text-align: left;
  font-weight: 600;
  padding-bottom: 4px;
}
td,
th {
  padding: 3px 0 3px 12px;
  border-top: 1px solid var(--rule);
  text-align: left;
  font-weight: 400;
}
td:first-child,
th:first-child {
  padding-left: 6px;
}
.n {
  text-align: right;
  white-space: nowrap;
}
.other td {
  font-weight: 600;
}
.other td:first-child {
  box-shadow: inset 3px 0 var(--spruce);
}
.sum th,
.sum td {
  border-top-color: var(--faded);
  font-weight: 650;
}
</style>

<script setup lang="ts">
import type { PointDefinition } from '#core/points/definition'
import { wayInWords } from '#core/quiz/notes'
import type { Stop } from '#core/results/results'
import { proportion } from '#core/stats/proportion'

/** Where people left, question by question in the order in which they are asked, with the branches on which it happened. */
const props = defineProps<{ definition: PointDefinition; stops: Stop[] }>()
const rows = computed(() => {
  const way = wayInWords(props.definition.questions, props.definition.quiz)
  const known = new Map(way.map((w, i) => [w.key, { ...w, i }]))
  return props.stops
    .map(s => {
      const on = known.get(s.question)
      const stopped = Math.min(s.stopped, s.reached)
      return {
        ...s,
        label: on?.label ?? s.label,
        isAside: on?.isAside ?? false,
        notes: on?.notes ?? ['asked no more'],
        at: on?.i ?? way.length,
        rate: proportion(stopped, s.reached),
      }
    })
    .sort((a, b) => a.at - b.at)
})
const lost = computed(() => props.stops.reduce((n, s) => n + s.stopped, 0))
const most = computed(() => Math.max(1, ...props.stops.map(s => s.reached)))
/** All shares are drawn on one scale. */
const full = computed(() => Math.max(0.05, ...rows.value.filter(r => !r.rate.tooFew).map(r => r.rate.high)))
</script>

<template>
  <p class="small faded">{{ count(lost, 'person', 'people') }} left with a question before them.</p>
  <div class="scroll" tabindex="0" role="region" aria-label="Where they stopped, a table">
    <table class="figures">
      <thead>
        <tr>
          <th>Question</th>
          <th class="n">Came to it</th>
          <th><span class="unseen">As a bar</span></th>
          <th class="n">Left at it</th>
          <th>of who came to it</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.question">
          <td class="what" :class="{ aside: r.isAside }">
            {{ r.label }}<span v-for="note in r.notes" :key="note" class="note">{{ note }}</span>
          </td>
          <td class="n">{{ r.reached }}</td>
          <td class="way">
            <span class="bar" aria-hidden="true" :style="{ width: `${(100 * r.reached) / most}%` }">
              <i :style="{ width: `${r.reached ? (100 * Math.min(r.stopped, r.reached)) / r.reached : 0}%` }" />
            </span>
          </td>
          <td class="n">{{ r.stopped }}</td>
          <td class="share"><RateBar :value="r.rate" :hits="r.stopped" :trials="r.reached" :full="full" /></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
td,
th {
  padding: 6px 14px 6px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
}
.what {
  min-width: 14rem;
  max-width: 30rem;
  overflow-wrap: anywhere;
}
.aside {
  padding-left: 18px;
  box-shadow: inset 3px 0 var(--rule);
}
.note {
  display: block;
  font-size: 13px;
  line-height: 18px;
  color: var(--faded);
}
.way {
  width: 22%;
  min-width: 110px;
}
.bar {
  display: flex;
  justify-content: flex-end;
  height: 10px;
  margin-top: 6px;
  background: var(--slate);
}
.bar i {
  display: block;
  height: 10px;
  background: var(--honey-mark);
}
.share {
  width: 26%;
  min-width: 190px;
}
</style>

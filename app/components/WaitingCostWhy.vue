<script setup lang="ts">
import type { WaitingCost } from '#core/follow-up/waiting-cost'
import type { TodayLead } from '#core/team'

/** Why one's list stands in this order: the formula, what it is worked out from, and what it gives for the one in hand. */
defineProps<{ cost: WaitingCost; lead: TodayLead }>()
const panel = ref<{ toggle: (event: Event) => void }>()
const open = ref(false)
const inHundred = (share: number) => (share * 100).toFixed(share < 0.0095 ? 2 : 1)
</script>

<template>
  <span>
    <Button variant="text" size="small" label="Why this order?" class="why-order" :aria-expanded="open" @click="panel?.toggle($event)" />
    <Popover ref="panel" aria-label="Why this order" @show="open = true" @hide="open = false">
      <section class="formula" aria-label="Why this order">
        <p>First comes who loses most of their chance in another hour of working time. For <b>{{ lead.name }}</b> that is
          <b>{{ inHundred(lead.loss) }}</b> wins in a hundred people like them.</p>
        <p>The chance of their label is halved with every <b>{{ Number(cost.halfAfter.toFixed(1)) }}</b> promised times that pass without an
          answer. A late next step counts as one promise of a working day. A meeting within half an hour stands above all.</p>
        <table class="figures">
          <thead>
            <tr>
              <th scope="col">Label</th>
              <th scope="col" class="n">Won in 100, answered at once</th>
              <th scope="col" class="n">Known ends</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in cost.chances.toReversed()" :key="c.label">
              <th scope="row"><LabelMark :label="c.label" /></th>
              <td class="n">{{ Math.round(c.chance * 100) }}</td>
              <td class="n">{{ c.ends }}</td>
            </tr>
          </tbody>
        </table>
        <p class="faded small">
          <template v-if="cost.learned">Worked out from the {{ cost.ends }} leads of the last year that were answered and then won
            ({{ cost.won }}) or lost.</template>
          <template v-else>Until 60 ends are known, 15 of them won and 15 lost, the halving is taken to be 4 promised times. So far there
            are {{ cost.ends }}, {{ cost.won }} of them won.</template>
          A label of which little is known is drawn towards a default, from 5 in a hundred for the lowest to 40 for the highest.
        </p>
      </section>
    </Popover>
  </span>
</template>

<style scoped>
.formula { max-width: 400px; display: grid; gap: 10px; }
.formula p { margin: 0; }
.why-order { padding-inline: 0; }
th[scope=row] { text-align: left; font-weight: 400; } .n { text-align: right; } td, th { padding: 3px 8px 3px 0; }
</style>

<script setup lang="ts">
import type { Reason } from '#core/scoring/lines'

/** The lines of a score, which add up to it. */
const props = defineProps<{ fit: number; interest: number; reasons: Reason[] }>()
const lines = (axis: 'fit' | 'interest') => props.reasons.filter(r => r.axis === axis).reverse()
const MOST = 8
const all = ref(false)
const axes = computed(() => [
  { name: 'Fit', of: 'who they are', total: props.fit, lines: lines('fit') },
  { name: 'Interest', of: 'what they did, fading', total: props.interest, lines: lines('interest') },
])
/** Many faded lines fold into one, which still adds up. */
function shown(list: Reason[]) {
  if (all.value || list.length <= MOST) return { list, rest: null }
  const rest = list.slice(MOST - 1)
  return { list: list.slice(0, MOST - 1), rest: { n: rest.length, now: rest.reduce((n, r) => n + r.now, 0) } }
}
</script>

<template>
  <div class="axes">
    <table v-for="axis in axes" :key="axis.name" class="figures">
      <caption>{{ axis.name }} <span class="faded">{{ axis.of }}</span></caption>
      <tbody>
        <tr v-for="(line, i) in shown(axis.lines).list" :key="i">
          <td>
            {{ line.name }}<span v-if="line.axis === 'interest'" class="faded small when">{{ ago(new Date(line.at).toISOString()) }}</span>
            <span v-else-if="line.note" class="faded small when">{{ line.note }}</span>
          </td>
          <td class="n"><span v-if="line.now !== line.points" class="faded small">of {{ line.points }}</span> {{ line.now }}</td>
        </tr>
        <tr v-if="shown(axis.lines).rest">
          <td><button type="button" class="more" @click="all = true">{{ shown(axis.lines).rest!.n }} older ones</button></td>
          <td class="n">{{ shown(axis.lines).rest!.now }}</td>
        </tr>
        <tr v-if="!axis.lines.length"><td class="faded" colspan="2">Nothing yet</td></tr>
      </tbody>
      <tfoot><tr><th scope="row">Together</th><td class="n">{{ axis.total }}</td></tr></tfoot>
    </table>
  </div>
</template>

<style scoped>
.axes { display: grid; grid-template-columns: repeat(auto-fit, minmax(190px, 1fr)); gap: 14px 28px; align-items: start; }
table { border-collapse: collapse; width: 100%; font-size: 14px; line-height: 20px; }
caption { text-align: left; font-weight: 600; padding-bottom: 2px; }
caption .faded { font-weight: 400; }
td, th { padding: 3px 0; border-top: 1px solid var(--rule); text-align: left; font-weight: 400; }
.n { text-align: right; white-space: nowrap; padding-left: 10px; }
tfoot th, tfoot td { font-weight: 650; border-top: 1px solid var(--faded); }
.when { margin-left: 0.5em; }
.more { all: unset; cursor: pointer; color: var(--spruce); text-decoration: underline; }
.more:focus-visible { outline: 2px solid var(--spruce); }
</style>

<script setup lang="ts">
import type { AnswerCounts, Results } from '#core/results/results'

/** Answers counted, as bars that all share one scale: how many of those who answered the question said so; of consents, of all. */
const props = defineProps<{ groups: { name: string; results: Results }[]; pickable: boolean }>()
const emit = defineEmits<{ pick: [question: string, value: string, text: string] }>()
const PICKABLE = new Set(['one_of', 'some_of', 'yes_no', 'country', 'consent'])
const SHOWN = 8
const opened = ref<string[]>([])

interface Row {
  value: string
  text: string
  ns: number[]
}
/** The answers of all groups to a question, in the first one's order. */
function rowsOf(question: string): Row[] {
  const rows = new Map<string, Row>()
  for (const [i, { results }] of props.groups.entries()) {
    for (const r of results.answers.find(a => a.question === question)?.rows ?? []) {
      const row = rows.get(r.value) ?? { value: r.value, text: r.text, ns: props.groups.map(() => 0) }
      row.ns[i] = r.n
      rows.set(r.value, row)
    }
  }
  return [...rows.values()]
}
const questions = computed(() =>
  props.groups[0]!.results.answers.filter(a =>
    props.groups.some(g => g.results.answers.some(o => o.question === a.question && o.answered)),
  ),
)
const answered = (a: AnswerCounts) => props.groups.map(g => g.results.answers.find(o => o.question === a.question)?.answered ?? 0)
const sent = (i: number) => props.groups[i]!.results.all.sent + props.groups[i]!.results.all.nameless
function share(a: AnswerCounts, n: number, i: number): number {
  const of = a.kind === 'consent' ? sent(i) : answered(a)[i]!
  return of ? n / of : 0
}
const shownRows = (question: string) => (opened.value.includes(question) ? rowsOf(question) : rowsOf(question).slice(0, SHOWN))
</script>

<template>
  <div class="answers">
    <section v-for="a in questions" :key="a.question" class="answer">
      <h3>{{ a.label }}</h3>
      <p class="small faded">
        <template v-for="(n, i) in answered(a)" :key="i"><template v-if="i">, </template>{{ n.toLocaleString('en') }} of {{ sent(i).toLocaleString('en')
          }}<template v-if="groups.length > 1"> in {{ groups[i]!.name }}</template></template>
        answered<template v-if="!a.rows.length">, in words of their own</template>
      </p>
      <ul v-if="a.rows.length">
        <li v-for="r in shownRows(a.question)" :key="r.value">
          <button
            v-if="pickable && PICKABLE.has(a.kind)"
            type="button"
            class="text"
            :aria-label="`Show who answered ${r.text}`"
            @click="emit('pick', a.question, r.value, `${a.label}: ${r.text}`)"
          >
            {{ r.text }}
          </button>
          <span v-else class="text">{{ r.text }}</span>
          <span class="bars">
            <span v-for="(n, i) in r.ns" :key="i" class="bar">
              <i :class="{ second: i }" :style="{ width: `${share(a, n, i) * 100}%` }" aria-hidden="true" />
              <span class="n">{{ n.toLocaleString('en') }} <span class="faded">{{ percent(share(a, n, i)) }}</span></span>
            </span>
          </span>
        </li>
      </ul>
      <Button
        v-if="rowsOf(a.question).length > SHOWN && !opened.includes(a.question)"
        :label="`All ${rowsOf(a.question).length}`"
        size="small"
        variant="text"
        @click="opened.push(a.question)"
      />
    </section>
    <p v-if="!questions.length" class="faded">Nobody has answered in this time.</p>
  </div>
</template>

<style scoped>
.answers {
  columns: 2;
  column-gap: 36px;
}
.answer {
  break-inside: avoid;
  padding: 2px 0 16px;
}
h3 {
  overflow-wrap: anywhere;
}
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
  gap: 12px;
  align-items: center;
  padding: 3px 0;
  border-top: 1px solid var(--rule);
}
.text {
  overflow-wrap: anywhere;
  text-align: left;
}
button.text {
  padding: 2px 0;
  border: 0;
  background: none;
  font: inherit;
  color: var(--spruce);
  cursor: pointer;
}
button.text:hover {
  text-decoration: underline;
}
.bar {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 20px;
}
.bar i {
  flex: none;
  height: 9px;
  max-width: calc(100% - 92px);
  background: var(--spruce);
}
.bar i.second {
  background: var(--slate);
}
.n {
  white-space: nowrap;
  font-variant-numeric: tabular-nums;
  font-size: 13.5px;
}
@media (max-width: 860px) {
  .answers {
    columns: 1;
  }
}
</style>

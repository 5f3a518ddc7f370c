<script setup lang="ts">
import type { PointDefinition } from '#core/points/definition'
import { cellsOf, setInQuiz, setMeaning, setWeight, weightOf } from '#core/quiz/edit'
import { MOST_WEIGHT } from '#core/quiz/limits'

/** What each answer speaks for, or which are right: answers down, outcomes across, figures typed straight in; the arrow keys go from cell to cell. */
const definition = defineModel<PointDefinition>({ required: true })
defineProps<{ disabled: boolean }>()
const table = ref<HTMLElement>()
const quiz = computed(() => definition.value.quiz!)
const rows = computed(() => definition.value.questions.map(q => ({ q, cells: cellsOf(q) })).filter(r => r.cells.length))
/** The strongest weight, for the wash. */
const most = computed(() => Math.max(1, ...rows.value.flatMap(r => r.cells.flatMap(c => c.meaning.weights.map(w => Math.abs(w.n))))))
const wash = (n: number) => (n ? { '--wash-by': `${Math.round(8 + (42 * Math.abs(n)) / most.value)}%` } : {})
const flaws = ref<Record<string, string>>({})

function write(key: string, at: number, to: string, typed: string): void {
  const text = typed.trim().replace('−', '-')
  const n = Number(text || 0)
  const cell = `${key} ${at} ${to}`
  const { [cell]: _, ...others } = flaws.value
  flaws.value = others
  if (!/^-?\d*$/.test(text) || Math.abs(n) > MOST_WEIGHT)
    return void (flaws.value = {
      ...others,
      [cell]:
        Math.abs(n) > MOST_WEIGHT ? `At most ${MOST_WEIGHT.toLocaleString('en-GB')} either way.` : 'Write a whole number, like 2 or -1.',
    })
  if (text !== '-') definition.value = setWeight(definition.value, key, at, to, n)
}
const points = (key: string, typed: string) => {
  const n = Math.min(1_000_000, Math.max(0, Math.round(Number(typed)) || 0))
  definition.value = {
    ...definition.value,
    questions: definition.value.questions.map(q => (q.key === key ? setInQuiz(q, { points: n }) : q)),
  }
}
/** The cell above, below, or beside. */
function go(event: KeyboardEvent): void {
  const field = event.target as HTMLInputElement
  const by = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1], Enter: [1, 0] }[event.key]
  if (!by || field.dataset.column === undefined) return
  const inside = field.type !== 'checkbox' && field.value.length > 0
  if (event.key === 'ArrowLeft' && inside && field.selectionStart !== 0) return
  if (event.key === 'ArrowRight' && inside && field.selectionEnd !== field.value.length) return
  const fields = [...table.value!.querySelectorAll<HTMLInputElement>('[data-row]')]
  const lines = [...new Set(fields.map(f => f.dataset.row))]
  const line = lines[lines.indexOf(field.dataset.row) + by[0]!]
  const next = fields.find(f => f.dataset.row === line && Number(f.dataset.column) === Number(field.dataset.column) + by[1]!)
  event.preventDefault()
  next?.focus()
  if (next?.type !== 'checkbox') next?.select()
}
const topics = computed(() => quiz.value.topics)
</script>

<template>
  <div class="scroll" role="region" :aria-label="quiz.kind === 'outcomes' ? 'Weights' : 'Right answers'" tabindex="0">
    <table ref="table" class="figures" @keydown="go">
      <thead>
        <tr>
          <th scope="col">Answer</th>
          <template v-if="quiz.kind === 'outcomes'">
            <th v-for="r in quiz.results" :key="r.key" scope="col" class="n">{{ r.title || 'no title' }}</th>
          </template>
          <template v-else>
            <th scope="col" class="n">Right</th>
            <th scope="col">Said to who chose it</th>
          </template>
        </tr>
      </thead>
      <tbody v-for="{ q, cells } in rows" :key="q.key">
        <tr class="question">
          <th scope="rowgroup" :colspan="quiz.kind === 'outcomes' ? quiz.results.length + 1 : 1">
            {{ q.label || 'A question without a text' }}
          </th>
          <td v-if="quiz.kind === 'marks'" colspan="2" class="marks">
            <label :for="`points-${q.key}`">Points</label>
            <input
              :id="`points-${q.key}`"
              class="cell"
              inputmode="numeric"
              maxlength="7"
              :value="q.quiz?.points ?? 0"
              :disabled="disabled"
              @change="points(q.key, ($event.target as HTMLInputElement).value)"
            />
            <template v-if="topics.length">
              <label :for="`topic-${q.key}`">Topic</label>
              <Select
                :input-id="`topic-${q.key}`"
                size="small"
                show-clear
                placeholder="none"
                :model-value="q.quiz?.topic ?? null"
                :options="topics"
                option-label="name"
                option-value="key"
                :disabled="disabled"
                aria-label="Topic"
                @update:model-value="
                  definition = {
                    ...definition,
                    questions: definition.questions.map(o => (o.key === q.key ? setInQuiz(o, { topic: $event }) : o)),
                  }
                "
              />
            </template>
          </td>
        </tr>
        <tr v-for="cell in cells" :key="cell.at">
          <th scope="row">{{ cell.name || 'no text' }}</th>
          <template v-if="quiz.kind === 'outcomes'">
            <td
              v-for="(r, column) in quiz.results"
              :key="r.key"
              class="n"
              :class="{ against: weightOf(cell.meaning, r.key) < 0, wash: weightOf(cell.meaning, r.key) }"
              :style="wash(weightOf(cell.meaning, r.key))"
            >
              <input
                class="cell"
                inputmode="numeric"
                maxlength="11"
                :data-row="`${q.key} ${cell.at}`"
                :data-column="column"
                :value="weightOf(cell.meaning, r.key) || ''"
                placeholder="·"
                :disabled="disabled"
                :aria-label="`${cell.name}, for ${r.title}`"
                :aria-invalid="Boolean(flaws[`${q.key} ${cell.at} ${r.key}`])"
                @input="write(q.key, cell.at, r.key, ($event.target as HTMLInputElement).value)"
                @focus="($event.target as HTMLInputElement).select()"
              />
              <span v-if="flaws[`${q.key} ${cell.at} ${r.key}`]" class="brick small" role="alert">{{
                flaws[`${q.key} ${cell.at} ${r.key}`]
              }}</span>
            </td>
          </template>
          <template v-else>
            <td class="n">
              <input
                type="checkbox"
                :data-row="`${q.key} ${cell.at}`"
                data-column="0"
                :checked="cell.meaning.right"
                :disabled="disabled"
                :aria-label="`${cell.name} is right`"
                @change="definition = setMeaning(definition, q.key, cell.at, { right: ($event.target as HTMLInputElement).checked })"
              />
            </td>
            <td>
              <InputText
                size="small"
                fluid
                maxlength="600"
                :model-value="cell.meaning.said"
                :disabled="disabled"
                :aria-label="`Said to who chose ${cell.name}`"
                @update:model-value="definition = setMeaning(definition, q.key, cell.at, { said: $event ?? '' })"
              />
            </td>
          </template>
        </tr>
      </tbody>
    </table>
    <p v-if="!rows.length" class="faded">Nothing can be chosen yet. Add a question with choices, or a number with bands.</p>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  background: var(--sheet);
  border: 1px solid var(--rule);
}
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  padding: 3px 10px;
  border-bottom: 1px solid var(--rule);
  font-weight: 400;
  text-align: left;
}
thead th {
  font-size: 13px;
  line-height: 18px;
  color: var(--faded);
  vertical-align: bottom;
  overflow-wrap: anywhere;
}
th[scope='row'] {
  min-width: 150px;
  padding-left: 22px;
}
.question th {
  padding-top: 12px;
  font-weight: 620;
}
.marks {
  text-align: right;
  white-space: nowrap;
}
.marks label {
  font-size: 13px;
  color: var(--faded);
  margin: 0 4px 0 10px;
}
.n {
  text-align: right;
}
.wash {
  background: color-mix(in srgb, var(--spruce) var(--wash-by), var(--sheet));
}
.against {
  background: color-mix(in srgb, var(--brick) var(--wash-by), var(--sheet));
}
.cell {
  width: 62px;
  height: 30px;
  padding: 0 6px;
  border: 1px solid transparent;
  border-radius: 3px;
  background: transparent;
  color: var(--ink);
  font: inherit;
  font-variant-numeric: tabular-nums;
  text-align: right;
}
.marks .cell {
  border-color: var(--rule);
}
.cell:hover:not(:disabled) {
  border-color: var(--faded);
}
.cell:focus {
  border-color: var(--spruce);
  background: var(--paper);
}
.cell[aria-invalid='true'] {
  border-color: var(--brick);
}
input[type='checkbox'] {
  width: 24px;
  height: 24px;
  accent-color: var(--spruce);
}
</style>

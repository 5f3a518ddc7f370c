<script setup lang="ts">
import { Plus, X } from 'lucide-vue-next'
import type { Comparison, Condition, Scalar } from '#core/conditions'
import type { Choice, PropertyKind } from '#core/properties/kinds'

/** Something that a condition may ask about. */
export interface Fact { name: string; label: string; kind: PropertyKind | 'consent'; choices: Choice[] }

/** The one editor of the one condition: all, any or none of some tests, nested where needed. */
const condition = defineModel<Condition>({ required: true })
const props = withDefaults(defineProps<{ facts: Fact[]; disabled?: boolean; depth?: number; called: string }>(), { disabled: false, depth: 0 })

type Join = 'all' | 'any' | 'none'
const JOINS: { key: Join; name: string }[] = [{ key: 'all', name: 'all of these hold' }, { key: 'any', name: 'any of these holds' }, { key: 'none', name: 'none of these holds' }]
const ORDERED = ['number', 'money', 'date']

const join = computed<Join>(() => 'any' in condition.value ? 'any' : 'none' in condition.value ? 'none' : 'all')
/** A test that stands alone is shown as a group of one. */
const parts = computed<Condition[]>(() => {
  const c = condition.value
  return 'all' in c ? c.all : 'any' in c ? c.any : 'none' in c ? c.none : [c]
})
const put = (list: Condition[], how = join.value) => { condition.value = { [how]: list } as Condition }
const change = (i: number, part: Condition) => put(parts.value.map((p, n) => n === i ? part : p))

const factOf = (part: Condition) => 'fact' in part ? props.facts.find(f => f.name === part.fact) : undefined
function comparisons(fact: Fact | undefined): { key: Comparison; name: string }[] {
  const own: [Comparison, string][] = !fact ? [] : fact.choices.length
    ? [['equal', 'is'], ['not_equal', 'is not'], ['one_of', 'is one of']]
    : ORDERED.includes(fact.kind) ? [['at_least', 'is at least'], ['at_most', 'is at most'], ['equal', 'is']] : [['equal', 'is'], ['contains', 'contains'], ['starts_with', 'begins with'], ['not_equal', 'is not']]
  return [...own, ['filled', 'is answered'], ['empty', 'is not answered']].map(([key, name]) => ({ key: key as Comparison, name: name! }))
}
function fresh(): Condition {
  const fact = props.facts[0]
  return fact ? test(fact, comparisons(fact)[0]!.key) : { fact: '', is: 'filled' }
}
function test(fact: Fact, is: Comparison, value?: Scalar | Scalar[]): Condition {
  if (is === 'filled' || is === 'empty') return { fact: fact.name, is }
  const first = fact.choices[0]?.value ?? ''
  const one = Array.isArray(value) ? value[0] ?? first : value ?? first
  return { fact: fact.name, is, value: is === 'one_of' ? (Array.isArray(value) ? value : [one]) : one }
}
function setFact(i: number, name: string): void {
  const fact = props.facts.find(f => f.name === name)!
  change(i, test(fact, comparisons(fact)[0]!.key))
}
function setIs(i: number, is: Comparison): void {
  const part = parts.value[i]!
  if ('fact' in part) change(i, test(factOf(part)!, is, part.value))
}
function setValue(i: number, value: Scalar | Scalar[]): void {
  const part = parts.value[i]!
  if ('fact' in part) change(i, { ...part, value })
}
</script>

<template>
  <div class="tree" :class="{ inner: depth }" role="group" :aria-label="called">
    <label v-if="parts.length > 1 || join !== 'all' || depth" class="join">
      <span class="unseen">How the tests go together</span>
      <Select :model-value="join" :options="JOINS" option-label="name" option-value="key" size="small" :disabled="disabled" aria-label="How the tests go together" @update:model-value="put(parts, $event)" />
    </label>
    <div v-for="(part, i) in parts" :key="i" class="part">
      <ConditionTree v-if="!('fact' in part)" :model-value="part" :facts="facts" :disabled="disabled" :depth="depth + 1" :called="`Group ${i + 1}`" @update:model-value="change(i, $event)" />
      <div v-else class="test">
        <Select :model-value="part.fact" :options="facts" option-label="label" option-value="name" size="small" :placeholder="factOf(part) ? '' : 'Taken out'" :disabled="disabled" aria-label="What is asked" @update:model-value="setFact(i, $event)" />
        <Select :model-value="part.is" :options="comparisons(factOf(part))" option-label="name" option-value="key" size="small" :disabled="disabled || !factOf(part)" aria-label="How it is compared" @update:model-value="setIs(i, $event)" />
        <template v-if="part.is !== 'filled' && part.is !== 'empty'">
          <MultiSelect v-if="part.is === 'one_of'" :model-value="(part.value as string[])" :options="factOf(part)?.choices ?? []" option-label="text" option-value="value" size="small" :show-toggle-all="false" :disabled="disabled" aria-label="With which" @update:model-value="setValue(i, $event)" />
          <Select v-else-if="factOf(part)?.choices.length" :model-value="part.value" :options="factOf(part)!.choices" option-label="text" option-value="value" size="small" :disabled="disabled" aria-label="With which" @update:model-value="setValue(i, $event)" />
          <InputText v-else :model-value="String(part.value ?? '')" size="small" :disabled="disabled" aria-label="With which" @update:model-value="setValue(i, $event ?? '')" />
        </template>
      </div>
      <Button v-if="!disabled" variant="text" size="small" severity="secondary" aria-label="Take this test out" @click="put(parts.filter((_, n) => n !== i))"><X :size="15" aria-hidden="true" /></Button>
    </div>
    <div v-if="!disabled" class="more">
      <Button variant="text" size="small" label="One more test" @click="put([...parts, fresh()])"><template #icon><Plus :size="14" aria-hidden="true" /></template></Button>
      <Button v-if="depth < 2 && parts.length" variant="text" size="small" severity="secondary" label="A group" @click="put([...parts, { any: [fresh()] }])" />
    </div>
  </div>
</template>

<style scoped>
.tree { display: grid; gap: 6px; justify-items: start; }
.inner { padding-left: 10px; border-left: 2px solid var(--rule); }
.part { display: flex; gap: 2px; align-items: flex-start; width: 100%; }
.part > :first-child { flex: 1; min-width: 0; }
.test { display: flex; flex-wrap: wrap; gap: 6px; }
.test > * { min-width: 90px; max-width: 100%; flex: 1 1 110px; }
.more { display: flex; gap: 4px; }
</style>

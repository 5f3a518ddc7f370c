<script setup lang="ts">
import { Plus, X } from 'lucide-vue-next'
import type { Comparison, Condition, ActivityKind, ActivityTest, Scalar, Test } from '#core/conditions/condition'
import { partsOf } from '#core/conditions/condition'
import type { Choice, PropertyKind } from '#core/properties/kinds'

/** Something that a condition may ask about. */
export interface Attribute {
  name: string
  label: string
  kind: PropertyKind | 'consent'
  choices: Choice[]
}

/** The one editor of the one condition: all, any or none of some tests, nested where needed. With `activityAttributes` it may also ask what people did. */
const condition = defineModel<Condition>({ required: true })
const props = withDefaults(
  defineProps<{
    attributes: Attribute[]
    activityAttributes?: (kind: ActivityKind) => Attribute[]
    disabled?: boolean
    depth?: number
    /** A group that says how its tests go together only when there are several. */ quiet?: boolean
    called: string
  }>(),
  { disabled: false, depth: 0, activityAttributes: undefined, quiet: false },
)
const house = useHouse()

type Join = 'all' | 'any' | 'none'
const JOINS: { key: Join; name: string }[] = [
  { key: 'all', name: 'all of these hold' },
  { key: 'any', name: 'any of these holds' },
  { key: 'none', name: 'none of these holds' },
]

const join = computed<Join>(() => ('any' in condition.value ? 'any' : 'none' in condition.value ? 'none' : 'all'))
/** A test that stands alone is shown as a group of one. */
const parts = computed<Condition[]>(() => partsOf(condition.value) ?? [condition.value])
const put = (list: Condition[], how = join.value) => {
  condition.value = { [how]: list } as Condition
}
const change = (i: number, part: Condition) => put(parts.value.map((p, n) => (n === i ? part : p)))

const attributeOf = (part: Test) => props.attributes.find(f => f.name === part.attribute)
function comparisons(attribute: Attribute | undefined): { key: Comparison; name: string }[] {
  const own: [Comparison, string][] = !attribute
    ? []
    : attribute.choices.length || attribute.kind === 'one_of' || attribute.kind === 'some_of'
      ? [
          ['equal', attribute.kind === 'some_of' ? 'has' : 'is'],
          ['not_equal', attribute.kind === 'some_of' ? 'has not' : 'is not'],
          ['one_of', attribute.kind === 'some_of' ? 'has one of' : 'is one of'],
        ]
      : attribute.kind === 'date'
        ? [
            ['within_days', 'in the last … days'],
            ['older_days', 'longer ago than … days'],
            ['at_least', 'on or after'],
            ['at_most', 'on or before'],
          ]
        : attribute.kind === 'number' || attribute.kind === 'money'
          ? [
              ['at_least', 'is at least'],
              ['at_most', 'is at most'],
              ['equal', 'is'],
            ]
          : [
              ['equal', 'is'],
              ['contains', 'contains'],
              ['starts_with', 'begins with'],
              ['not_equal', 'is not'],
            ]
  return [...own, ['filled', 'is known'], ['empty', 'is not known']].map(([key, name]) => ({ key: key as Comparison, name: name! }))
}
function fresh(): Condition {
  const attribute = props.attributes[0]
  return attribute ? test(attribute, comparisons(attribute)[0]!.key) : { attribute: '', is: 'filled' }
}
const isDays = (is: Comparison) => is === 'within_days' || is === 'older_days'
const DAY = /^\d{4}-\d\d-\d\d$/
function test(attribute: Attribute, is: Comparison, value?: Scalar | Scalar[]): Condition {
  if (is === 'filled' || is === 'empty') return { attribute: attribute.name, is }
  const given = Array.isArray(value) ? value[0] : value
  if (isDays(is)) return { attribute: attribute.name, is, value: typeof given === 'number' ? given : 7 }
  if (attribute.kind === 'date')
    return { attribute: attribute.name, is, value: DAY.test(String(given)) ? given! : new Date().toISOString().slice(0, 10) }
  if (attribute.kind === 'number' || attribute.kind === 'money')
    return { attribute: attribute.name, is, value: given !== undefined && given !== '' && Number.isFinite(Number(given)) ? given : 0 }
  const first = attribute.choices[0]?.value ?? ''
  const one = given ?? first
  return { attribute: attribute.name, is, value: is === 'one_of' ? (Array.isArray(value) ? value : [one]) : one }
}
function setAttribute(i: number, name: string): void {
  const attribute = props.attributes.find(f => f.name === name)!
  change(i, test(attribute, comparisons(attribute)[0]!.key))
}
const setIs = (i: number, part: Test, is: Comparison) => change(i, test(attributeOf(part)!, is, part.value))
/** Money is kept in its smallest unit, and typed as people write it. */
const cents = computed(
  () =>
    new Intl.NumberFormat('en', { style: 'currency', currency: house.words?.house.currency ?? 'EUR' }).resolvedOptions()
      .maximumFractionDigits ?? 2,
)
const shown = (part: Test) =>
  attributeOf(part)?.kind === 'money' ? String(Number(part.value) / 10 ** cents.value) : String(part.value ?? '')
function setTyped(i: number, part: Test, text: string): void {
  const kind = attributeOf(part)?.kind
  const number = Number(text.replace(',', '.'))
  if (isDays(part.is)) change(i, { ...part, value: Math.min(3650, Math.max(0, Math.round(number) || 0)) })
  else if (kind !== 'money' && kind !== 'number') change(i, { ...part, value: text })
  else if (Number.isFinite(number)) change(i, { ...part, value: kind === 'money' ? Math.round(number * 10 ** cents.value) : number })
}
/** Whether there are too many choices to look through. */
const isLong = (part: Test) => (attributeOf(part)?.choices.length ?? 0) > 12
const MULTIPLE = 'What is chosen'
</script>

<template>
  <div class="tree" :class="{ inner: depth }" role="group" :aria-label="called">
    <label v-if="parts.length > 1 || join !== 'all' || (depth && !quiet)" class="join">
      <span class="unseen">How the tests go together</span>
      <Select
        :model-value="join"
        :options="JOINS"
        option-label="name"
        option-value="key"
        size="small"
        :disabled="disabled"
        aria-label="How the tests go together"
        @update:model-value="put(parts, $event)"
      />
    </label>
    <div v-for="(part, i) in parts" :key="i" class="part">
      <ActivityEditor
        v-if="'did' in part"
        :model-value="(part as ActivityTest)"
        :activity-attributes="activityAttributes!"
        :disabled="disabled"
        :depth="depth + 1"
        @update:model-value="change(i, $event)"
      />
      <ConditionTree
        v-else-if="!('attribute' in part)"
        :model-value="part"
        :attributes="attributes"
        :activity-attributes="activityAttributes"
        :disabled="disabled"
        :depth="depth + 1"
        :called="`Group ${i + 1}`"
        @update:model-value="change(i, $event)"
      />
      <div v-else class="test">
        <Select
          :model-value="part.attribute"
          :options="attributes"
          option-label="label"
          option-value="name"
          size="small"
          :filter="attributes.length > 12"
          :placeholder="attributeOf(part) ? '' : 'Taken out'"
          :disabled="disabled"
          aria-label="What is asked"
          @update:model-value="setAttribute(i, $event)"
        />
        <Select
          :model-value="part.is"
          :options="comparisons(attributeOf(part))"
          option-label="name"
          option-value="key"
          size="small"
          :disabled="disabled || !attributeOf(part)"
          aria-label="How it is compared"
          @update:model-value="setIs(i, part, $event)"
        />
        <template v-if="part.is !== 'filled' && part.is !== 'empty'">
          <MultiSelect
            v-if="part.is === 'one_of'"
            :model-value="(part.value as string[])"
            :options="attributeOf(part)?.choices ?? []"
            option-label="text"
            option-value="value"
            size="small"
            :filter="isLong(part)"
            :show-toggle-all="false"
            :disabled="disabled"
            aria-label="With which"
            :placeholder="MULTIPLE"
            @update:model-value="change(i, { ...part, value: $event })"
          />
          <Select
            v-else-if="attributeOf(part)?.choices.length"
            :model-value="part.value"
            :options="attributeOf(part)!.choices"
            option-label="text"
            option-value="value"
            size="small"
            :filter="isLong(part)"
            :disabled="disabled"
            aria-label="With which"
            @update:model-value="change(i, { ...part, value: $event })"
          />
          <DayField
            v-else-if="attributeOf(part)?.kind === 'date' && !isDays(part.is)"
            :model-value="shown(part)"
            size="small"
            :disabled="disabled"
            called="With which day"
            class="day"
            @update:model-value="setTyped(i, part, $event ?? '')"
          />
          <InputText
            v-else
            :model-value="shown(part)"
            size="small"
            :disabled="disabled"
            maxlength="200"
            :inputmode="isDays(part.is) ? 'numeric' : undefined"
            :aria-label="isDays(part.is) ? 'How many days' : 'With which'"
            @update:model-value="setTyped(i, part, $event ?? '')"
          />
        </template>
      </div>
      <Button
        v-if="!disabled"
        variant="text"
        size="small"
        severity="secondary"
        aria-label="Take this test out"
        @click="put(parts.filter((_, n) => n !== i))"
      >
        <X :size="15" aria-hidden="true" />
      </Button>
    </div>
    <div v-if="!disabled" class="more">
      <Button
        variant="text"
        size="small"
        :label="activityAttributes ? 'Who they are' : 'One more test'"
        :aria-label="activityAttributes ? 'One more test: who they are' : undefined"
        @click="put([...parts, fresh()])"
      >
        <template #icon><Plus :size="14" aria-hidden="true" /></template>
      </Button>
      <Button
        v-if="activityAttributes"
        variant="text"
        size="small"
        label="What they did"
        aria-label="One more test: what they did"
        @click="put([...parts, { did: 'page', where: null, times: 1, days: 7 }])"
      >
        <template #icon><Plus :size="14" aria-hidden="true" /></template>
      </Button>
      <Button
        v-if="depth < 2 && parts.length"
        variant="text"
        size="small"
        severity="secondary"
        label="A group"
        @click="put([...parts, { any: [fresh()] }])"
      >
        <template #icon><Plus :size="14" aria-hidden="true" /></template>
      </Button>
    </div>
  </div>
</template>

<style scoped>
.day { width: 150px; }
.tree { display: grid; gap: 6px; justify-items: start; min-width: 0; }
.inner { padding-left: 10px; border-left: 2px solid var(--rule); }
.part { display: flex; gap: 2px; align-items: flex-start; width: 100%; }
.part > :first-child { flex: 1; min-width: 0; }
.test { display: flex; flex-wrap: wrap; gap: 6px; }
.test > * { min-width: 90px; max-width: 100%; flex: 1 1 150px; }
.more { display: flex; flex-wrap: wrap; gap: 4px; }
</style>

<script setup lang="ts">
import { Trash2 } from 'lucide-vue-next'
import { actionsOf, addedAction, changedAction, withoutAction } from '#core/actions/edit'
import type { ActionOf } from '#core/actions/shapes'
import { choicesOf, type PointDefinition } from '#core/points/definition'
import { PLAIN_READING, readValue } from '#core/points/values'
import { isSettable } from '#core/properties/fits'
import type { Property, PropertyValue } from '#core/properties/kinds'

/** Properties that are set to the same for everybody who completes a form. */
const definition = defineModel<PointDefinition>({ required: true })
defineProps<{ disabled: boolean }>()
const house = useHouse()

type SetProperty = ActionOf<'property'>
const all = computed(() => actionsOf(definition.value, 'property'))
const change = (key: string, to: Partial<Omit<SetProperty, 'key' | 'kind'>>) => {
  definition.value = changedAction<SetProperty>(key, to)(definition.value)
}
/** Those that no question asks for, and that are not set already. */
const open = computed(() =>
  house.words!.properties.filter(p => isSettable(p.kind) && !p.retired && !definition.value.questions.some(q => q.property === p.key)),
)
const offered = (own: string) => open.value.filter(p => p.key === own || !all.value.some(a => a.property === p.key))
const kindOf = (key: string): Property | undefined => house.words!.properties.find(p => p.key === key)
const choices = (p: Property | undefined) => (p ? choicesOf(p) : [])
const first = (p: Property): PropertyValue => (p.kind === 'some_of' ? [] : (choicesOf(p)[0]?.value ?? ''))

function add(): void {
  const property = offered('')[0]
  if (property)
    definition.value = addedAction(definition.value, 'property', { property: property.key, value: first(property), onKnown: 'replace' })
}
const flaws = ref<Record<string, string>>({})
/** What is typed is kept as answers are: a date as a day, money in its smallest unit. */
function typed(action: SetProperty, text: string): void {
  const { kind } = kindOf(action.property)!
  if (kind === 'some_of')
    return change(action.key, {
      value: [
        ...new Set(
          text
            .split(',')
            .map(t => t.trim())
            .filter(Boolean),
        ),
      ],
    })
  if (kind === 'one_of') return change(action.key, { value: text.trim() })
  const read = text.trim() ? readValue({ kind, choices: [], limits: { least: null, most: null } }, text, PLAIN_READING) : { value: '' }
  flaws.value = { ...flaws.value, [action.key]: 'flaw' in read ? read.flaw : '' }
  change(action.key, { value: 'value' in read ? read.value : '' })
}
const ON_KNOWN = [
  { key: 'replace', name: 'whatever is known' },
  { key: 'fill', name: 'if it is not known' },
  { key: 'add', name: 'beside what is known' },
]
</script>

<template>
  <div class="properties">
    <section v-for="(action, i) in all" :key="action.key" :aria-label="`Property to set, ${i + 1}`">
      <div class="bar">
        <h2>Also set</h2>
        <Button
          v-if="!disabled"
          variant="text"
          size="small"
          severity="secondary"
          aria-label="Set this property no more"
          @click="definition = withoutAction(action.key)(definition)"
        >
          <Trash2 :size="15" aria-hidden="true" />
        </Button>
      </div>
      <div class="pair">
        <Select
          :model-value="action.property"
          :options="offered(action.property)"
          option-label="label"
          option-value="key"
          fluid
          :disabled="disabled"
          aria-label="Property to set"
          placeholder="A property that is gone"
          @update:model-value="change(action.key, { property: $event, value: first(kindOf($event)!) })"
        />
        <MultiSelect
          v-if="kindOf(action.property)?.kind === 'some_of' && choices(kindOf(action.property)).length"
          :model-value="[action.value].flat()"
          :options="choices(kindOf(action.property))"
          option-label="text"
          option-value="value"
          fluid
          :show-toggle-all="false"
          :disabled="disabled"
          aria-label="To what"
          placeholder="To what"
          @update:model-value="change(action.key, { value: $event })"
        />
        <Select
          v-else-if="choices(kindOf(action.property)).length"
          :model-value="[action.value].flat()[0]"
          :options="choices(kindOf(action.property))"
          option-label="text"
          option-value="value"
          fluid
          :disabled="disabled"
          :filter="choices(kindOf(action.property)).length > 12"
          aria-label="To what"
          placeholder="To what"
          @update:model-value="change(action.key, { value: $event })"
        />
        <InputText
          v-else
          :model-value="action.value ? house.valueText(action.property, action.value) : ''"
          fluid
          maxlength="1000"
          aria-label="To what"
          placeholder="To what"
          :invalid="Boolean(flaws[action.key])" @change="typed(action, ($event.target as HTMLInputElement).value)"
        />
      </div>
      <p v-if="flaws[action.key]" role="alert" class="brick small">{{ flaws[action.key] }}</p>
      <Select
        :model-value="action.onKnown"
        :options="ON_KNOWN"
        option-label="name"
        option-value="key"
        fluid
        :disabled="disabled"
        aria-label="When something is known already"
        @update:model-value="change(action.key, { onKnown: $event })"
      />
    </section>
    <Button
      v-if="!disabled && all.length < 5 && offered('').length"
      label="Set a property"
      size="small"
      variant="outlined"
      class="add"
      @click="add"
    />
  </div>
</template>

<style scoped>
.properties { display: grid; gap: 4px; min-width: 0; }
section { display: grid; gap: 4px; margin-top: 12px; padding-top: 8px; border-top: 1px solid var(--rule); min-width: 0; }
.bar { display: flex; justify-content: space-between; align-items: center; }
.pair { display: grid; grid-template-columns: repeat(2, minmax(0, 1fr)); gap: 10px; }
.add { justify-self: start; margin-top: 8px; }
</style>

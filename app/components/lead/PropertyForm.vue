<script setup lang="ts">
import type { Property, PropertyValue } from '#core/properties/kinds'

/** The field in which something that is known of a lead is changed. */
const props = defineProps<{
  property: Property
  value: PropertyValue | null
  labelledby?: string
  called?: string
  /** @returns whether it was kept; what is wrong was said */ keep: (value: string | string[] | null) => Promise<boolean>
}>()
const emit = defineEmits<{ left: [] }>()
const house = useHouse()
const box = ref<HTMLElement>()
const digits = computed(
  () =>
    new Intl.NumberFormat('en', { style: 'currency', currency: house.words!.house.currency }).resolvedOptions().maximumFractionDigits ?? 2,
)
const YES_NO = [
  { value: 'yes', text: 'Yes' },
  { value: 'no', text: 'No' },
]
const choices = computed(() => (props.property.kind === 'yes_no' ? YES_NO : props.property.choices))
const hasChoices = computed(() => ['one_of', 'some_of', 'yes_no'].includes(props.property.kind))
const begin = (): string | string[] => {
  const now = props.value ?? (props.property.kind === 'some_of' ? [] : '')
  return props.property.kind === 'money' && now !== ''
    ? String(Number(now) / 10 ** digits.value)
    : props.property.kind === 'some_of'
      ? [now].flat()
      : [now].flat().join(', ')
}
const typed = ref<string | string[]>(begin())
onMounted(() => box.value?.querySelector<HTMLElement>('input, textarea, [role=combobox]')?.focus())
/** A list that is open is closed first. */
function escape(event: KeyboardEvent): void {
  if ((event.target as HTMLElement).getAttribute('aria-expanded') === 'true') return
  event.stopPropagation()
  emit('left')
}
async function save(): Promise<void> {
  const empty = typed.value === '' || (Array.isArray(typed.value) && !typed.value.length)
  if (await props.keep(empty ? null : typed.value)) emit('left')
}
</script>

<template>
  <div ref="box">
    <form @submit.prevent="save" @keydown.esc.capture="escape">
      <MultiSelect
        v-if="property.kind === 'some_of'"
        v-model="typed"
        :options="choices"
        option-label="text"
        option-value="value"
        :aria-labelledby="labelledby"
        :aria-label="called"
        :show-toggle-all="false"
        size="small"
        fluid
      />
      <Select
        v-else-if="hasChoices"
        v-model="typed"
        :options="choices"
        option-label="text"
        option-value="value"
        :aria-labelledby="labelledby"
        :aria-label="called"
        show-clear
        size="small"
        fluid
      />
      <Textarea
        v-else-if="property.kind === 'long_text'"
        :model-value="String(typed)"
        rows="3"
        auto-resize
        :aria-labelledby="labelledby"
        :aria-label="called"
        maxlength="20000"
        fluid
        @update:model-value="typed = $event ?? ''"
      />
      <InputText
        v-else
        :model-value="String(typed)"
        :placeholder="property.kind === 'date' ? '2027-05-01' : ''"
        :aria-labelledby="labelledby"
        :aria-label="called"
        maxlength="2000"
        size="small"
        fluid
        @update:model-value="typed = $event ?? ''"
      />
      <span class="ways">
        <Button type="submit" label="Keep" size="small" />
        <Button type="button" label="Leave it" size="small" variant="text" @click="emit('left')" />
      </span>
    </form>
  </div>
</template>

<style scoped>
form { display: grid; gap: 4px; white-space: normal; } .ways { display: flex; gap: 4px; }
</style>

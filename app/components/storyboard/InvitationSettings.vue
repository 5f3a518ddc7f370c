<script setup lang="ts">
import type { DisplayRules } from '#core/appearing/definition'
import type { PointDefinition } from '#core/points/definition'

/** What a bar, a card or a floating button says before somebody opens it. */
const definition = defineModel<PointDefinition>({ required: true })
defineProps<{ disabled: boolean }>()
const a = computed(() => definition.value.display)
const set = (change: Partial<DisplayRules>) => {
  definition.value = { ...definition.value, display: { ...definition.value.display, ...change } }
}
const SIDES = computed(() =>
  a.value.placement === 'edge'
    ? [
        { key: 'start', name: 'At the top' },
        { key: 'end', name: 'At the bottom' },
      ]
    : [
        { key: 'start', name: 'On the left' },
        { key: 'end', name: 'On the right' },
      ],
)
</script>

<template>
  <fieldset class="invitation" :disabled="disabled">
    <legend><h2>{{ a.placement === 'float' ? 'The button' : 'The invitation' }}</h2></legend>
    <label v-if="a.placement !== 'float'" for="invitation">It says <span class="faded">(empty: the title)</span></label>
    <Textarea
      v-if="a.placement !== 'float'"
      id="invitation"
      :model-value="a.invitation"
      rows="2"
      auto-resize
      fluid
      maxlength="400"
      :placeholder="definition.title"
      @update:model-value="set({ invitation: $event ?? '' })"
    />
    <label for="opens">{{ a.placement === 'float' ? 'It says' : 'The button that opens it says' }}</label>
    <InputText id="opens" :model-value="a.open" fluid maxlength="60" @update:model-value="set({ open: $event ?? '' })" />
    <label for="side">Where</label>
    <Select
      input-id="side"
      :model-value="a.side"
      :options="SIDES"
      option-label="name"
      option-value="key"
      fluid
      :disabled="disabled"
      aria-label="Where"
      @update:model-value="set({ side: $event })"
    />
  </fieldset>
</template>

<style scoped>
.invitation { margin: 0; padding: 0; border: 0; display: grid; gap: 4px; min-width: 0; }
legend { padding: 0; }
label { font-size: 13px; line-height: 18px; color: var(--faded); display: block; margin: 8px 0 3px; }
</style>

<script setup lang="ts">
import { actionFor, withActionFor } from '#core/actions/edit'
import type { PointDefinition } from '#core/points/definition'

/** What is done beside the rest for those who come to each result of a quiz. */
const definition = defineModel<PointDefinition>({ required: true })
defineProps<{ disabled: boolean }>()
const house = useHouse()
const labels = computed(() => [
  { key: null as string | null, name: 'as for all' },
  ...house.words!.labels.map(l => ({ key: l.key as string | null, name: l.name })),
])
const owners = computed(() => [
  { id: null as string | null, name: 'as for all' },
  ...house.words!.members.map(m => ({ id: m.id as string | null, name: m.name })),
])
const heldOf = (result: string) => {
  const { how, days } = actionFor(definition.value, 'label', result) ?? {}
  return { ...(how && { how }), ...(days && { days }) }
}
const setHeld = (result: string, held: object) => {
  const label = actionFor(definition.value, 'label', result)?.label
  if (label) definition.value = withActionFor(definition.value, 'label', result, { ...held, label })
}
const setLabel = (result: string, label: string | null) => {
  definition.value = withActionFor(definition.value, 'label', result, label ? { ...heldOf(result), label } : null)
}
const setOwner = (result: string, owner: string | null) => {
  definition.value = withActionFor(definition.value, 'owner', result, owner ? { owner } : null)
}
const tagsOf = (result: string) => (actionFor(definition.value, 'tag', result)?.tags ?? []).join(', ')
function setTags(result: string, text: string): void {
  const tags = [
    ...new Set(
      text
        .split(',')
        .map(t => t.trim().slice(0, 60))
        .filter(Boolean),
    ),
  ].slice(0, 20)
  definition.value = withActionFor(definition.value, 'tag', result, tags.length ? { tags } : null)
}
</script>

<template>
  <section aria-labelledby="by-result">
    <h2 id="by-result">By result</h2>
    <p class="faded small">Beside what is done for all. Mails and whom else to tell ask for the result in their conditions.</p>
    <fieldset v-for="r in definition.quiz!.results" :key="r.key" :disabled="disabled">
      <legend>{{ r.title || r.key }}</legend>
      <div class="three">
        <div>
          <label :id="`label-${r.key}`">Label</label>
          <Select
            :model-value="actionFor(definition, 'label', r.key)?.label ?? null"
            :options="labels"
            option-label="name"
            option-value="key"
            size="small"
            fluid
            placeholder="as for all"
            :disabled="disabled"
            :aria-labelledby="`label-${r.key}`"
            @update:model-value="setLabel(r.key, $event)"
          />
          <StoryboardLabelTime
            v-if="actionFor(definition, 'label', r.key)"
            v-bind="heldOf(r.key)"
            :disabled="disabled"
            :called="`Label for ${r.title || r.key}`"
            @change="setHeld(r.key, $event)"
          />
        </div>
        <div>
          <label :for="`tags-${r.key}`">Tags</label>
          <InputText
            :id="`tags-${r.key}`"
            size="small"
            fluid
            :model-value="tagsOf(r.key)"
            @change="setTags(r.key, ($event.target as HTMLInputElement).value)"
          />
        </div>
        <div>
          <label :id="`owner-${r.key}`">Who gets them</label>
          <Select
            :model-value="actionFor(definition, 'owner', r.key)?.owner ?? null"
            :options="owners"
            option-label="name"
            option-value="id"
            size="small"
            fluid
            placeholder="as for all"
            :disabled="disabled"
            :aria-labelledby="`owner-${r.key}`"
            @update:model-value="setOwner(r.key, $event)"
          />
        </div>
      </div>
    </fieldset>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 6px;
  margin-top: 16px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
}
fieldset {
  margin: 0;
  padding: 0;
  border: 0;
  min-width: 0;
}
legend {
  padding: 0;
  font-size: 15px;
}
.three {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px;
}
label {
  display: block;
  font-size: 13px;
  line-height: 18px;
  color: var(--faded);
}
</style>

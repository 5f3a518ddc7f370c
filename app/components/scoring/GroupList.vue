<script setup lang="ts">
import { Plus } from 'lucide-vue-next'
import { addGroup, changeGroup, removeGroup } from '#core/scoring/edit'
import type { Scorecard } from '#core/scoring/scorecard'

/** Groups of rules of fit that together give no more than so much. */
const card = defineModel<Scorecard>({ required: true })
defineProps<{ disabled: boolean }>()
const size = (key: string) => card.value.fit.filter(r => r.group === key).length
</script>

<template>
  <div class="groups">
    <ul v-if="card.groups?.length">
      <li v-for="g in card.groups" :key="g.key">
        <InputText
          class="name"
          size="small"
          :model-value="g.name"
          maxlength="200"
          :disabled="disabled"
          aria-label="Name of the group"
          @change="card = changeGroup(card, g.key, { name: ($event.target as HTMLInputElement).value.trim() || g.name })"
        />
        <span class="faded small">{{ count(size(g.key), 'rule', 'rules') }}, together at most</span>
        <ScoringPointsInput
          :model-value="g.most"
          :least="1"
          :called="`Most points of ${g.name}`"
          :disabled="disabled"
          @update:model-value="card = changeGroup(card, g.key, { most: $event })"
        />
        <Button
          v-if="!disabled"
          label="Take it out"
          variant="text"
          size="small"
          severity="danger"
          :aria-label="`Take the group ${g.name} out`"
          @click="card = removeGroup(card, g.key)"
        />
      </li>
    </ul>
    <Button v-if="!disabled" variant="text" size="small" label="Add a group with a limit" @click="card = addGroup(card)">
      <template #icon><Plus :size="15" aria-hidden="true" /></template>
    </Button>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 10px 0 4px;
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
  padding: 4px 0;
}
.name {
  flex: 1;
  min-width: 120px;
}
</style>

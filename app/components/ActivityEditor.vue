<script setup lang="ts">
import { Plus } from 'lucide-vue-next'
import { ACTIVITY_KINDS, type Condition, type ActivityKind, type ActivityTest } from '#core/conditions/condition'
import { ACTIVITY_WORDS } from '#core/conditions/words'
import type { Attribute } from '~/components/ConditionTree.vue'

/** Something that people did: what, how often at least, and in which time. */
const activity = defineModel<ActivityTest>({ required: true })
const props = defineProps<{ activityAttributes: (kind: ActivityKind) => Attribute[]; disabled: boolean; depth: number }>()
const KINDS = ACTIVITY_KINDS.map(key => ({ key, name: `They ${ACTIVITY_WORDS[key]}` }))
const attributes = computed(() => props.activityAttributes(activity.value.did))
const set = (change: Partial<ActivityTest>) => {
  activity.value = { ...activity.value, ...change }
}
const whole = (text: string | undefined, most: number) => Math.min(most, Math.max(1, Math.round(Number(text)) || 1))
function narrow(): void {
  const first = attributes.value[0]!
  set({
    where: { all: [{ attribute: first.name, is: 'equal', value: first.choices[0]?.value ?? (first.name === 'page.path' ? '/' : '') }] },
  })
}
const put = (where: Condition) => set({ where: 'all' in where && !where.all.length ? null : where })
</script>

<template>
  <div class="activity" role="group" :aria-label="`They ${ACTIVITY_WORDS[activity.did]}`">
    <div class="line">
      <Select
        :model-value="activity.did"
        :options="KINDS"
        option-label="name"
        option-value="key"
        size="small"
        :disabled="disabled"
        aria-label="What they did"
        @update:model-value="set({ did: $event, where: null })"
      />
      <span class="pair">
        <span>at least</span>
        <InputText
          :model-value="String(activity.times)"
          size="small"
          class="n"
          inputmode="numeric"
          maxlength="4"
          :disabled="disabled"
          aria-label="How many times at least"
          @update:model-value="set({ times: whole($event, 1000) })"
        />
        <span>{{ activity.times === 1 ? 'time' : 'times' }}</span>
      </span>
      <span class="pair">
        <Select
          :model-value="activity.days === null"
          :options="[{ key: false, name: 'in the last' }, { key: true, name: 'ever' }]"
          option-label="name"
          option-value="key"
          size="small"
          :disabled="disabled"
          aria-label="In which time"
          @update:model-value="set({ days: $event ? null : 7 })"
        />
        <template v-if="activity.days !== null">
          <InputText
            :model-value="String(activity.days)"
            size="small"
            class="n"
            inputmode="numeric"
            maxlength="4"
            :disabled="disabled"
            aria-label="In how many days"
            @update:model-value="set({ days: whole($event, 3650) })"
          />
          <span>{{ activity.days === 1 ? 'day' : 'days' }}</span>
        </template>
      </span>
    </div>
    <ConditionTree
      v-if="activity.where"
      :model-value="activity.where"
      :attributes="attributes"
      :disabled="disabled"
      :depth="Math.max(2, depth)"
      quiet
      called="Which"
      @update:model-value="put"
    />
    <Button v-else-if="!disabled" variant="text" size="small" severity="secondary" label="Only where …" @click="narrow">
      <template #icon><Plus :size="14" aria-hidden="true" /></template>
    </Button>
  </div>
</template>

<style scoped>
.activity { display: grid; gap: 4px; justify-items: start; min-width: 0; }
.line, .pair { display: flex; flex-wrap: wrap; gap: 6px; align-items: center; }
.activity > .tree { width: 100%; }
.n { width: 58px; }
</style>

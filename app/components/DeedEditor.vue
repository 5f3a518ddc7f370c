<script setup lang="ts">
import { Plus } from 'lucide-vue-next'
import { DEED_KINDS, type Condition, type DeedKind, type DeedTest } from '#core/conditions'
import { DEED_WORDS } from '#core/conditions-words'
import type { Fact } from '~/components/ConditionTree.vue'

/** Something that people did: what, how often at least, and in which time. */
const deed = defineModel<DeedTest>({ required: true })
const props = defineProps<{ deedFacts: (kind: DeedKind) => Fact[]; disabled: boolean; depth: number }>()
const KINDS = DEED_KINDS.map(key => ({ key, name: `They ${DEED_WORDS[key]}` }))
const facts = computed(() => props.deedFacts(deed.value.did))
const set = (change: Partial<DeedTest>) => { deed.value = { ...deed.value, ...change } }
const whole = (text: string | undefined, most: number) => Math.min(most, Math.max(1, Math.round(Number(text)) || 1))
function narrow(): void {
  const first = facts.value[0]!
  set({ where: { all: [{ fact: first.name, is: 'equal', value: first.choices[0]?.value ?? (first.name === 'page.path' ? '/' : '') }] } })
}
const put = (where: Condition) => set({ where: 'all' in where && !where.all.length ? null : where })
</script>

<template>
  <div class="deed" role="group" :aria-label="`They ${DEED_WORDS[deed.did]}`">
    <div class="line">
      <Select :model-value="deed.did" :options="KINDS" option-label="name" option-value="key" size="small" :disabled="disabled" aria-label="What they did" @update:model-value="set({ did: $event, where: null })" />
      <span class="pair"><span>at least</span><InputText :model-value="String(deed.times)" size="small" class="n" inputmode="numeric" maxlength="4" :disabled="disabled" aria-label="How many times at least" @update:model-value="set({ times: whole($event, 1000) })" /><span>{{ deed.times === 1 ? 'time' : 'times' }}</span></span>
      <span class="pair"><Select :model-value="deed.days === null" :options="[{ key: false, name: 'in the last' }, { key: true, name: 'ever' }]" option-label="name" option-value="key" size="small" :disabled="disabled" aria-label="In which time" @update:model-value="set({ days: $event ? null : 7 })" /><template v-if="deed.days !== null"><InputText :model-value="String(deed.days)" size="small" class="n" inputmode="numeric" maxlength="4" :disabled="disabled" aria-label="In how many days" @update:model-value="set({ days: whole($event, 3650) })" /><span>{{ deed.days === 1 ? 'day' : 'days' }}</span></template></span>
    </div>
    <ConditionTree v-if="deed.where" :model-value="deed.where" :facts="facts" :disabled="disabled" :depth="Math.max(2, depth)" quiet called="Which" @update:model-value="put" />
    <Button v-else-if="!disabled" variant="text" size="small" severity="secondary" label="Only where …" @click="narrow"><template #icon><Plus :size="14" aria-hidden="true" /></template></Button>
  </div>
</template>

<style scoped>
.deed { display: grid; gap: 4px; justify-items: start; min-width: 0; }
.line, .pair { display: flex; flex-wrap: wrap; gap: 6px; align-items: center; }
.deed > .tree { width: 100%; }
.n { width: 58px; }
</style>

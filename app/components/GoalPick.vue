<script setup lang="ts">
import { blankNext, type Next, type NextKind } from '#core/points/next'

/** Where something leads on to: an address, a file, or nowhere further. */
const goal = defineModel<Next>({ required: true })
defineProps<{ id: string; kinds: { key: NextKind; name: string }[]; called: string; disabled: boolean }>()
const minutes = (typed: string | undefined) => Math.min(240, Math.max(10, Number(typed) || 30))
const days = (typed: string | undefined) => Math.min(60, Math.max(1, Number(typed) || 14))
</script>

<template>
  <div class="goal">
    <label :for="id">{{ called }}</label>
    <Select :input-id="id" :model-value="goal.kind" :options="kinds" option-label="name" option-value="key" fluid :disabled="disabled" :aria-label="called" @update:model-value="goal = blankNext($event)" />
    <template v-if="goal.kind === 'address'">
      <label :for="`${id}-address`">Address</label>
      <InputText :id="`${id}-address`" :model-value="goal.address" fluid maxlength="2000" :disabled="disabled" @update:model-value="goal = { kind: 'address', address: $event ?? '' }" />
    </template>
    <FilePick v-else-if="goal.kind === 'file'" :chosen="goal.file" :disabled="disabled" called="File to download" @choose="goal = { kind: 'file', file: { id: $event.id, name: $event.name } }" @clear="goal = { kind: 'file', file: null }" />
    <div v-else-if="goal.kind === 'meeting'" class="two">
      <div><label :for="`${id}-minutes`">Minutes</label><InputText :id="`${id}-minutes`" :model-value="String(goal.minutes)" inputmode="numeric" maxlength="3" fluid :disabled="disabled" @change="goal = { ...goal, minutes: minutes(($event.target as HTMLInputElement).value) }" /></div>
      <div><label :for="`${id}-days`">Days ahead to choose from</label><InputText :id="`${id}-days`" :model-value="String(goal.days)" inputmode="numeric" maxlength="2" fluid :disabled="disabled" @change="goal = { ...goal, days: days(($event.target as HTMLInputElement).value) }" /></div>
    </div>
  </div>
</template>

<style scoped>
.goal { display: grid; gap: 4px; min-width: 0; width: 100%; }
.two { display: grid; grid-template-columns: 1fr 1fr; gap: 10px; }
label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 6px; display: block; }
</style>

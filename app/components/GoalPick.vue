<script setup lang="ts">
import { blankNext, type Next, type NextKind } from '#core/points/next'

/** Where something leads on to: an address, a file, or nowhere further. A file that stands in other places too changes in all of them, unless one says otherwise. */
const props = defineProps<{
  goal: Next
  id: string
  kinds: { key: NextKind; name: string }[]
  called: string
  disabled: boolean
  /** Where else the same file is handed over. */ also: string[]
}>()
const emit = defineEmits<{ lead: [goal: Next, alone: boolean] }>()
const alone = ref(false)
const everywhere = computed(() => new Intl.ListFormat('en-GB').format(props.also))
const lead = (goal: Next) => emit('lead', goal, alone.value && props.also.length > 0)
const minutes = (typed: string | undefined) => Math.min(240, Math.max(10, Number(typed) || 30))
const days = (typed: string | undefined) => Math.min(60, Math.max(1, Number(typed) || 14))
</script>

<template>
  <div class="goal">
    <label :for="id">{{ called }}</label>
    <Select
      :input-id="id"
      :model-value="goal.kind"
      :options="kinds"
      option-label="name"
      option-value="key"
      fluid
      :disabled="disabled"
      :aria-label="called"
      @update:model-value="lead(blankNext($event))"
    />
    <template v-if="goal.kind === 'address'">
      <label :for="`${id}-address`">Address</label>
      <InputText
        :id="`${id}-address`"
        :model-value="goal.address"
        fluid
        maxlength="2000"
        :disabled="disabled"
        @update:model-value="lead({ kind: 'address', address: $event ?? '' })"
      />
    </template>
    <template v-else-if="goal.kind === 'file'">
      <FilePick
        :chosen="goal.file"
        :disabled="disabled"
        called="File to download"
        @choose="lead({ kind: 'file', file: { id: $event.id, name: $event.name } })"
        @clear="lead({ kind: 'file', file: null })"
      />
      <p v-if="also.length" class="small faded">The same file is in {{ everywhere }}; another one goes there, too.</p>
      <label v-if="also.length && !disabled" class="tick">
        <Checkbox v-model="alone" binary :input-id="`${id}-alone`" /> Change it here only</label>
    </template>
    <div v-else-if="goal.kind === 'meeting'" class="two">
      <div>
        <label :for="`${id}-minutes`">Minutes</label>
        <InputText
          :id="`${id}-minutes`"
          :model-value="String(goal.minutes)"
          inputmode="numeric"
          maxlength="3"
          fluid
          :disabled="disabled"
          @change="lead({ ...goal, minutes: minutes(($event.target as HTMLInputElement).value) })"
        />
      </div>
      <div>
        <label :for="`${id}-days`">Days ahead to choose from</label>
        <InputText
          :id="`${id}-days`"
          :model-value="String(goal.days)"
          inputmode="numeric"
          maxlength="2"
          fluid
          :disabled="disabled"
          @change="lead({ ...goal, days: days(($event.target as HTMLInputElement).value) })"
        />
      </div>
    </div>
  </div>
</template>

<style scoped>
.goal { display: grid; gap: 4px; min-width: 0; width: 100%; }
.two { display: grid; grid-template-columns: 1fr 1fr; gap: 10px; }
label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 6px; display: block; }
.tick { display: flex; gap: 8px; align-items: center; color: var(--ink); font-size: 15px; }
</style>

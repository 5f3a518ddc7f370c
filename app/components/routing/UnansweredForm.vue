<script setup lang="ts">
import type { Low, RoutingPlan } from '#core/routing/plan'

/** What the plan says for when nobody answers, and for calls that reach nobody. */
const plan = defineModel<RoutingPlan>({ required: true })
defineProps<{ disabled: boolean }>()
const house = useHouse()
const putLow = (low: Partial<Low>) => {
  plan.value = { ...plan.value, low: { ...plan.value.low, ...low } }
}
const ladder = computed(() => plan.value.tries.ladder)
const putLadder = (next: number[]) => {
  plan.value = { ...plan.value, tries: { ...plan.value.tries, ladder: next } }
}
const STEPS = [
  ['owner', 'the owner is told'],
  ['manager', 'who manages is told'],
  ['onward', 'the lead goes on, in lanes that say so'],
] as const
/** No share is less than the one before it. */
function put(step: keyof Low, value: number): void {
  const low = { ...plan.value.low, [step]: value }
  if (step === 'owner') putLow({ owner: value, manager: Math.max(value, low.manager), onward: Math.max(value, low.manager, low.onward) })
  else if (step === 'manager') putLow({ owner: Math.min(value, low.owner), manager: value, onward: Math.max(value, low.onward) })
  else putLow({ owner: Math.min(value, low.owner), manager: Math.min(value, low.manager), onward: value })
}
</script>

<template>
  <div class="sheet unanswered">
    <h2>When nobody answers</h2>
    <p class="faded small">In percent of what was promised, in working time of whoever has the lead.</p>
    <p v-for="[step, says] in STEPS" :key="step" class="line">At
      <ScoringPointsInput
        :model-value="plan.low[step]"
        :least="1"
        :most="1000"
        :called="`Percent of the promise at which ${says}`"
        :disabled="disabled"
        @update:model-value="put(step, $event)"
      />
      % {{ says }}.</p>
    <h2>When a call reaches nobody</h2>
    <p v-for="(minutes, i) in ladder" :key="i" class="line">
      Try {{ i + 2 }} after
      <ScoringPointsInput
        :model-value="minutes"
        :least="1"
        :most="100000"
        :called="`Working minutes until try ${i + 2}`"
        :disabled="disabled"
        @update:model-value="putLadder(ladder.with(i, $event))"
      />
      working minutes <span class="faded small">{{ workingTime(minutes, house.dayHours) }}</span>
      <Button
        v-if="!disabled && i === ladder.length - 1"
        label="Take it out"
        size="small"
        variant="text"
        severity="secondary"
        @click="putLadder(ladder.slice(0, -1))"
      />
    </p>
    <p class="line faded small">
      {{ ladder.length ? `After try ${ladder.length + 1} nothing more is set.` : 'Nothing is set.' }}<Button
        v-if="!disabled && ladder.length < 20"
        label="One more try"
        size="small"
        variant="text"
        @click="putLadder([...ladder, ladder.at(-1) ?? 120])"
      />
    </p>
    <label class="tick">
      <Checkbox
        :model-value="plan.tries.count"
        binary
        :disabled="disabled"
        input-id="tries-count"
        @update:model-value="plan = { ...plan, tries: { ...plan.tries, count: $event } }"
      />
      A try stops the clock, though nobody was reached</label>
  </div>
</template>

<style scoped>
.unanswered { padding: 12px 16px; margin-top: 18px; display: grid; gap: 6px; }
.line { display: flex; flex-wrap: wrap; gap: 4px 6px; align-items: center; } .tick { display: flex; gap: 7px; align-items: center; }
</style>

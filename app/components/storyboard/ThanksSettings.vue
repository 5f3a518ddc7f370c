<script setup lang="ts">
import type { PointDefinition } from '#core/points/definition'
import { alsoIn, leadTo } from '#core/points/goals'
import type { NextKind } from '#core/points/next'

/** What visitors come to after sending, and what they may do afterwards. */
const definition = defineModel<PointDefinition>({ required: true })
defineProps<{ disabled: boolean }>()
const set = (change: Partial<PointDefinition>) => {
  definition.value = { ...definition.value, ...change }
}
const NEXT: { key: NextKind; name: string }[] = [
  { key: 'message', name: 'Read the message where the form stood' },
  { key: 'page', name: 'Come to a thank-you page of its own' },
  { key: 'address', name: 'Go on to another address' },
  { key: 'file', name: 'Download a file' },
  { key: 'meeting', name: 'Choose a time to meet the owner' },
]
</script>

<template>
  <fieldset class="after" :disabled="disabled">
    <legend class="unseen">What visitors come to</legend>
    <label for="thanks">Thank-you message</label>
    <Textarea
      id="thanks"
      :model-value="definition.thanks"
      rows="4"
      auto-resize
      fluid
      maxlength="4000"
      @update:model-value="set({ thanks: $event ?? '' })"
    />
    <GoalPick
      id="next"
      :goal="definition.next"
      :kinds="NEXT"
      called="Then visitors"
      :disabled="disabled"
      :also="alsoIn(definition, 'thanks')"
      @lead="(goal, alone) => definition = leadTo(definition, 'thanks', goal, alone)"
    />
    <p v-if="definition.next.kind === 'meeting'" class="small faded">The free times come from the house’s working hours and the owner’s
      other meetings. Both get a calendar file by mail, and it becomes the next step.</p>
    <h2>Afterwards they may</h2>
    <label class="tick">
      <Checkbox
        :model-value="definition.returns.correct"
        binary
        input-id="correct"
        :disabled="disabled"
        @update:model-value="set({ returns: { ...definition.returns, correct: $event } })"
      />
      Correct what they sent, by a link that only they have</label>
    <label class="tick">
      <Checkbox
        :model-value="definition.returns.again"
        binary
        input-id="again"
        :disabled="disabled"
        @update:model-value="set({ returns: { ...definition.returns, again: $event } })"
      />
      Enter once more, by a link beside the thanks</label>
  </fieldset>
</template>

<style scoped>
.after { margin: 0; padding: 0; border: 0; display: grid; gap: 4px; min-width: 0; }
label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 6px; }
h2 { margin-top: 14px; }
.tick { display: flex; gap: 8px; align-items: center; color: var(--ink); font-size: 15px; line-height: 22px; }
</style>

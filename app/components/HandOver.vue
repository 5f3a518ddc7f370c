<script setup lang="ts">
import { may } from '#core/roles'

/** Gives a lead to a colleague, with a word to them. */
const visible = defineModel<boolean>('visible', { required: true })
const props = defineProps<{
  name: string
  owner: string | null
  /** @returns whether it was done; what went wrong was said */ give: (to: string, words: string, within: number | null) => Promise<boolean>
}>()
const house = useHouse()
const session = useSession()
const to = ref<string | null>(null)
const words = ref('')
/** Working minutes in which they have to take it. */
const within = ref<number | null>(null)
const WITHIN = [
  { value: null, name: 'At once: it is theirs' },
  { value: 60, name: 'Within a working hour' },
  { value: 240, name: 'Within four working hours' },
  { value: 600, name: 'Within a working day' },
]
const others = computed(() =>
  house.words!.members.filter(m => may(m.role, 'work leads') && m.id !== props.owner && m.id !== session.me!.id),
)
watch(visible, () => {
  to.value = null
})
async function hand(): Promise<void> {
  if (!to.value || !(await props.give(to.value, words.value, within.value))) return
  words.value = ''
  visible.value = false
}
</script>

<template>
  <Dialog v-model:visible="visible" modal :header="`Hand ${name} over`" :style="{ width: '26rem' }" :dismissable-mask="true">
    <form class="hand" @submit.prevent="hand">
      <label id="hand-to">To</label>
      <Select
        v-model="to"
        :options="others"
        option-label="name"
        option-value="id"
        aria-labelledby="hand-to"
        placeholder="Choose a colleague"
        fluid
      />
      <label for="hand-words">A word to them, if you like</label>
      <Textarea id="hand-words" v-model="words" rows="3" maxlength="600" fluid />
      <label id="hand-within">They take it</label>
      <Select
        v-model="within"
        :options="WITHIN"
        option-label="name"
        option-value="value"
        aria-labelledby="hand-within"
        placeholder=" "
        fluid
      />
      <p class="faded small">
        {{ within === null ? '' : 'What they have not taken by then goes back. ' }}They hear of it at the bell and by mail, with your
        words.</p>
      <Button type="submit" label="Hand over" :disabled="!to" />
    </form>
  </Dialog>
</template>

<style scoped>
.hand { display: grid; gap: 6px; justify-items: start; }
.hand > :deep(.p-select), .hand > :deep(textarea) { width: 100%; }
</style>

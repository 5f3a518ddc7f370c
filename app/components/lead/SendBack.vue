<script setup lang="ts">
import { SENT_BACK, SENT_BACK_WORDS, type SentBackWhy } from '#core/events/kinds/sent-back'

/** Whoever has a lead says that it is not worth their time yet, and why: the scorecard's proof counts it. */
const visible = defineModel<boolean>('visible', { required: true })
const props = defineProps<{ name: string; send: (why: SentBackWhy, words: string) => Promise<boolean> }>()
const why = ref<SentBackWhy | null>(null)
const words = ref('')
const busy = ref(false)
const WHYS = SENT_BACK.map(value => ({ value, name: SENT_BACK_WORDS[value] }))
watch(visible, shown => {
  if (!shown) return
  why.value = null
  words.value = ''
})
async function keep(): Promise<void> {
  if (!why.value || busy.value) return
  busy.value = true
  if (await props.send(why.value, words.value)) visible.value = false
  busy.value = false
}
</script>

<template>
  <Dialog v-model:visible="visible" modal :header="`Send ${name} back`" :style="{ width: 'min(28rem, 94vw)' }">
    <form class="back" @submit.prevent="keep">
      <p>They are nobody’s then and wait for nobody, and for 30 days they count as not qualified. The proof of the scorecard counts it
        against the rules and the form that brought them.</p>
      <fieldset>
        <legend>Why?</legend>
        <label v-for="w in WHYS" :key="w.value" class="tick">
          <RadioButton v-model="why" :value="w.value" :input-id="`why-${w.value}`" name="why" /> {{ w.name }}
        </label>
      </fieldset>
      <label for="back-words">In a few words, if you like</label>
      <Textarea id="back-words" v-model="words" rows="2" maxlength="600" fluid />
      <p><Button type="submit" label="Send them back" :disabled="!why" :loading="busy" /></p>
    </form>
  </Dialog>
</template>

<style scoped>
.back, fieldset { display: grid; gap: 8px; } fieldset { border: 0; margin: 0; padding: 0; } legend { font-weight: 600; padding: 0; } .tick { display: flex; gap: 8px; align-items: center; }
</style>

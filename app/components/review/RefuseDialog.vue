<script setup lang="ts">
import { MOST_WHY, REFUSALS } from '#core/review'

/** Why an entry is not taken in: chosen by a digit, or written. */
const visible = defineModel<boolean>('visible', { required: true })
defineProps<{ many: number }>()
const emit = defineEmits<{ refuse: [why: string] }>()
const why = ref('')
watch(visible, now => {
  if (now) why.value = ''
})
function refuse(reason: string): void {
  if (!reason.trim()) return
  visible.value = false
  emit('refuse', reason.trim())
}
function onKey(event: KeyboardEvent): void {
  const reason = REFUSALS[Number(event.key) - 1]
  if (!reason || (event.target as Element).matches('input')) return
  event.preventDefault()
  refuse(reason)
}
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    :header="many === 1 ? 'Why is it not taken in?' : `Why are ${many} not taken in?`"
    :style="{ width: 'min(460px, 94vw)' }"
    dismissable-mask
    @keydown="onKey"
  >
    <ul aria-label="Reasons">
      <li v-for="(reason, i) in REFUSALS" :key="reason">
        <Button variant="text" fluid class="reason" :autofocus="i === 0" @click="refuse(reason)">
          <kbd>{{ i + 1 }}</kbd> {{ reason }}
        </Button>
      </li>
    </ul>
    <form @submit.prevent="refuse(why)">
      <label for="why-else" class="faded small">Something else</label>
      <div class="row">
        <InputText id="why-else" v-model="why" fluid :maxlength="MOST_WHY" />
        <Button type="submit" label="Refuse" :disabled="!why.trim()" />
      </div>
    </form>
    <p class="faded small">Whoever sent it is not told. It is kept for a week, and can be let in until then.</p>
  </Dialog>
</template>

<style scoped>
ul { list-style: none; margin: 0 0 12px; padding: 0; }
.reason { justify-content: flex-start; gap: 10px; text-align: left; }
.row { display: flex; gap: 8px; margin-top: 2px; }
form { margin-bottom: 12px; }
</style>

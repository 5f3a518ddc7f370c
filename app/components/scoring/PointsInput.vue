<script setup lang="ts">
/** Whole points, typed or moved by the arrow keys (with Shift by ten). What is no number is said, and nothing changes. */
const points = defineModel<number>({ required: true })
const props = withDefaults(defineProps<{ called: string; least?: number; most?: number; disabled?: boolean }>(), {
  least: -1000,
  most: 1000,
})
const wrong = ref('')
const typed = ref(String(points.value))
watch(points, now => {
  typed.value = String(now)
  wrong.value = ''
})
const within = (n: number) => Math.min(props.most, Math.max(props.least, n))
function take(): void {
  const text = typed.value.trim().replace('−', '-').replace(/^\+/, '')
  if (!/^-?\d{1,6}$/.test(text)) {
    wrong.value = `Write a whole number from ${props.least} to ${props.most}.`
    return
  }
  const n = within(Number(text))
  wrong.value = n === Number(text) ? '' : `From ${props.least} to ${props.most}.`
  points.value = n
  typed.value = String(n)
}
function press(event: KeyboardEvent): void {
  const by = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0
  if (!by) return
  event.preventDefault()
  points.value = within(points.value + by * (event.shiftKey ? 10 : 1))
}
</script>

<template>
  <span class="points">
    <InputText
      v-model="typed"
      size="small"
      inputmode="text"
      maxlength="7"
      :disabled="disabled"
      :aria-label="called"
      :invalid="wrong !== ''"
      @change="take"
      @keydown="press"
    />
    <span v-if="wrong" class="brick small" role="alert">{{ wrong }}</span>
  </span>
</template>

<style scoped>
.points {
  display: inline-grid;
  justify-items: end;
}
.points :deep(input) {
  width: 4.6rem;
  text-align: right;
  font-variant-numeric: tabular-nums;
}
</style>

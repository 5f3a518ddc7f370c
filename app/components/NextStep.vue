<script setup lang="ts">
import { DateTime } from 'luxon'

/** The one thing to do next, with a time. */
const props = defineProps<{ step: { text: string; due: string } | null; disabled: boolean }>()
const emit = defineEmits<{ change: [step: { text: string; due: string } | null, done: boolean] }>()
const editing = ref(false)
const text = ref('')
const at = ref<Date | null>(null)
const problem = ref('')
const input = ref<{ $el: HTMLInputElement }>()
const overdue = computed(() => props.step && Date.parse(props.step.due) < Date.now())

const morning = (days: number) => DateTime.now().plus({ days }).set({ hour: 9, minute: 0, second: 0, millisecond: 0 })
const nextWorkday = () => {
  let day = morning(1)
  while (day.weekday > 5) day = day.plus({ days: 1 })
  return day
}
const QUICK = [{ label: 'In an hour', at: () => DateTime.now().plus({ hours: 1 }).startOf('minute') }, { label: 'Next working day', at: nextWorkday }, { label: 'In a week', at: () => morning(7) }]

function edit(): void {
  if (props.disabled) return
  text.value = props.step?.text ?? ''
  at.value = props.step ? new Date(props.step.due) : nextWorkday().toJSDate()
  problem.value = ''
  editing.value = true
  void nextTick(() => input.value?.$el.focus())
}
function keep(): void {
  problem.value = !text.value.trim() ? 'Say what the next step is.' : !at.value ? 'Say when it is due.' : ''
  if (problem.value) return
  editing.value = false
  emit('change', { text: text.value.trim(), due: at.value!.toISOString() }, false)
}
defineExpose({ edit })
</script>

<template>
  <div class="step">
    <span class="head">Next step</span>
    <form v-if="editing" @submit.prevent="keep" @keydown.esc.stop="editing = false">
      <InputText ref="input" v-model="text" fluid maxlength="300" placeholder="Call about the drawings" aria-label="Next step" />
      <DatePicker v-model="at" show-time hour-format="24" date-format="D d M yy," :step-minute="5" fluid aria-label="Due" :input-props="{ 'aria-label': 'Due' }" />
      <p class="quick"><Button v-for="q in QUICK" :key="q.label" type="button" size="small" variant="text" :label="q.label" @click="at = q.at().toJSDate()" /></p>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <p class="buttons"><Button type="submit" label="Keep" size="small" /><Button type="button" label="Leave it" size="small" variant="text" @click="editing = false" /></p>
    </form>
    <template v-else-if="step">
      <p><b>{{ step.text }}</b><br><span :class="overdue ? 'late' : 'faded'"><template v-if="overdue">Late, was due </template>{{ due(step.due) }}</span></p>
      <p v-if="!disabled" class="buttons"><Button label="Done" size="small" variant="outlined" @click="emit('change', null, true)" /><Button label="Change" size="small" variant="text" @click="edit" /></p>
    </template>
    <template v-else><p class="faded">None set.</p><Button v-if="!disabled" label="Set one" size="small" variant="outlined" @click="edit" /></template>
  </div>
</template>

<style scoped>
.head { display: block; font-size: 13px; line-height: 18px; color: var(--faded); margin-bottom: 3px; }
form { display: grid; gap: 6px; }
.quick, .buttons { display: flex; flex-wrap: wrap; gap: 6px; }
.step > .buttons { margin-top: 4px; }
.late { color: var(--brick); }
.problem { color: var(--brick); }
</style>

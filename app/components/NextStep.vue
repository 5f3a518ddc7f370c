<script setup lang="ts">
import { DateTime } from 'luxon'
import { EVERY, EVERY_WORDS, STEP_KINDS, STEP_WORDS, type Every, type StepKind } from '#core/follow-up/state'
import type { NextStepView } from '#core/team'

/** The one thing to do next, with a time. */
const props = defineProps<{
  step: NextStepView | null
  disabled: boolean
  /** Whoever parked them is reminded by their waking up. */ closed?: boolean
}>()
const emit = defineEmits<{
  change: [step: NextStepView | null, done: boolean, outcome: string]
  /** Its fields are gone; nothing was changed. */ left: []
}>()
const editing = ref(false)
const ending = ref(false)
const text = ref('')
const at = ref<Date | null>(null)
const kind = ref<StepKind>('call')
const remind = ref<number>(0)
const every = ref<Every | null>(null)
const outcome = ref('')
const problem = ref('')
const input = ref<{ $el: HTMLInputElement }>()
const outcomeInput = ref<{ $el: HTMLInputElement }>()
const now = useNow()
const overdue = computed(() => props.step && Date.parse(props.step.due) < now.value)

const morning = (days: number) => DateTime.now().plus({ days }).set({ hour: 9, minute: 0, second: 0, millisecond: 0 })
const nextWorkday = () => {
  let day = morning(1)
  while (day.weekday > 5) day = day.plus({ days: 1 })
  return day
}
const QUICK = [
  { label: 'In an hour', at: () => DateTime.now().plus({ hours: 1 }).startOf('minute') },
  { label: 'Next working day', at: nextWorkday },
  { label: 'In a week', at: () => morning(7) },
]
const KINDS = STEP_KINDS.map(value => ({ value, name: STEP_WORDS[value] }))
const AGAIN = [
  { value: null, name: 'Once' },
  ...EVERY.map(value => ({ value, name: EVERY_WORDS[value][0]!.toUpperCase() + EVERY_WORDS[value].slice(1) })),
]
/** Minutes before; -1: nobody is reminded. */
const REMIND = [
  { value: 0, name: 'At the time' },
  { value: 15, name: '15 minutes before' },
  { value: 60, name: 'An hour before' },
  { value: 1440, name: 'A day before' },
  { value: -1, name: 'Not at all' },
]

function edit(): void {
  if (props.disabled) return
  const { step } = props
  text.value = step?.text ?? ''
  at.value = step ? new Date(step.due) : nextWorkday().toJSDate()
  kind.value = step?.kind ?? 'call'
  remind.value = step ? Math.max(...step.remind, -1) : 0
  every.value = step?.every ?? null
  problem.value = ''
  editing.value = true
  void nextTick(() => input.value?.$el.focus())
}
function keep(): void {
  problem.value = !text.value.trim() ? 'Say what the next step is.' : !at.value ? 'Say when it is due.' : ''
  if (problem.value) return
  editing.value = false
  const moments = remind.value < 0 ? [] : [...new Set([remind.value, 0])]
  emit(
    'change',
    { text: text.value.trim(), due: at.value!.toISOString(), kind: kind.value, remind: moments, every: every.value },
    false,
    '',
  )
}
function leave(): void {
  editing.value = ending.value = false
  emit('left')
}
function end(): void {
  outcome.value = ''
  ending.value = true
  void nextTick(() => outcomeInput.value?.$el.focus())
}
function finish(): void {
  ending.value = false
  emit('change', null, true, outcome.value.trim())
}
defineExpose({ edit })
</script>

<template>
  <div class="step">
    <span class="head">Next step</span>
    <form v-if="editing" @submit.prevent="keep" @keydown.esc.stop="leave">
      <InputText ref="input" v-model="text" fluid maxlength="300" placeholder="Call about the drawings" aria-label="Next step" />
      <div class="pair">
        <Select v-model="kind" :options="KINDS" option-label="name" option-value="value" aria-label="What kind of step" fluid />
        <DatePicker
          v-model="at"
          show-time
          hour-format="24"
          date-format="D d M yy,"
          :step-minute="5"
          fluid
          aria-label="Due"
          :input-props="{ 'aria-label': 'Due' }"
        />
      </div>
      <p class="quick">
        <Button
          v-for="q in QUICK"
          :key="q.label"
          type="button"
          size="small"
          variant="text"
          :label="q.label"
          @click="at = q.at().toJSDate()"
        />
      </p>
      <div class="pair">
        <Select v-model="remind" :options="REMIND" option-label="name" option-value="value" aria-label="Remind me" fluid />
        <Select v-model="every" :options="AGAIN" option-label="name" option-value="value" aria-label="How often" placeholder=" " fluid />
      </div>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <p class="buttons">
        <Button type="submit" label="Keep" size="small" />
        <Button type="button" label="Leave it" size="small" variant="text" @click="leave" />
      </p>
    </form>
    <form v-else-if="ending" @submit.prevent="finish" @keydown.esc.stop="leave">
      <p><b>{{ step?.text }}</b></p>
      <InputText
        ref="outcomeInput"
        v-model="outcome"
        fluid
        maxlength="600"
        placeholder="What came of it? (if you like)"
        aria-label="What came of it"
      />
      <p class="buttons">
        <Button type="submit" label="Done" size="small" />
        <Button type="button" label="Not yet" size="small" variant="text" @click="leave" />
      </p>
    </form>
    <template v-else-if="step">
      <p>
        <b>{{ step.text }}</b>
        <br>
        <span :class="overdue ? 'late' : 'faded'"><template v-if="overdue">Late, was due </template>{{ due(step.due) }}</span>
        <span v-if="step.kind !== 'other' || step.every" class="faded small">,
          {{ [step.kind === 'other' ? '' : STEP_WORDS[step.kind].toLowerCase(), step.every ? EVERY_WORDS[step.every] : ''].filter(Boolean).join(', ') }}
        </span>
      </p>
      <p v-if="!disabled" class="buttons">
        <Button label="Done" size="small" variant="outlined" @click="end" />
        <Button label="Change" size="small" variant="text" @click="edit" />
      </p>
    </template>
    <template v-else>
      <p class="faded">None set.</p>
      <Button v-if="!disabled && !closed" label="Set one" size="small" variant="outlined" @click="edit" />
    </template>
  </div>
</template>

<style scoped>
.head { display: block; font-size: 13px; line-height: 18px; color: var(--faded); margin-bottom: 3px; }
form { display: grid; gap: 6px; }
.pair { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1.4fr); gap: 6px; }
.quick, .buttons { display: flex; flex-wrap: wrap; gap: 6px; }
.step > .buttons { margin-top: 4px; }
.late { color: var(--brick); }
.problem { color: var(--brick); }
</style>

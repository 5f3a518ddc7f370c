<script setup lang="ts">
import type { Call, Result } from '#core/quiz/shapes'

/** What a result calls for, with the button that leads there. */
const props = defineProps<{ result: Pick<Result, 'call' | 'button'>; disabled: boolean }>()
const emit = defineEmits<{ change: [change: Partial<Result>] }>()
const KINDS: { key: Call['kind']; name: string }[] = [
  { key: 'none', name: 'Nothing more' },
  { key: 'meeting', name: 'Choose a time to meet the owner' },
  { key: 'point', name: 'Go on to something else of ours' },
  { key: 'address', name: 'Go on to an address' },
  { key: 'file', name: 'Download a file' },
]
const BLANK: { [K in Call['kind']]: Extract<Call, { kind: K }> } = {
  none: { kind: 'none' },
  meeting: { kind: 'meeting', minutes: 30, days: 14 },
  point: { kind: 'point', point: '' },
  address: { kind: 'address', address: '' },
  file: { kind: 'file', file: null },
}
const WORDS: Record<Call['kind'], string> = {
  none: '',
  meeting: 'Choose a time',
  point: 'Go on',
  address: 'Read on',
  file: 'Download it',
}
const call = computed(() => props.result.call)
const isKind = <K extends Call['kind']>(kind: K) => (call.value.kind === kind ? (call.value as Extract<Call, { kind: K }>) : null)
const meeting = computed(() => isKind('meeting'))
const point = computed(() => isKind('point'))
const address = computed(() => isKind('address'))
const file = computed(() => isKind('file'))
function choose(kind: Call['kind']): void {
  const words = Object.values(WORDS)
  // Words of ours follow; words of their own stay.
  const isOurs = words.includes(props.result.button)
  emit('change', { call: BLANK[kind], ...(isOurs && kind !== 'none' && { button: WORDS[kind] }) })
}
const put = (call: Call) => emit('change', { call })
const within = (typed: string, least: number, most: number, else_: number) =>
  Math.min(most, Math.max(least, Math.round(Number(typed)) || else_))
const typed = (event: Event) => (event.target as HTMLInputElement).value

const route = useRoute()
const points = ref<{ id: string; key: string; name: string }[]>([])
watchEffect(() => {
  if (point.value && !points.value.length)
    void api<typeof points.value>('/api/team/points').then(
      all => {
        points.value = all.filter(p => p.id !== route.params.id)
      },
      () => {},
    )
})
const isGone = computed(() => Boolean(point.value?.point && points.value.length && !points.value.some(p => p.key === point.value!.point)))
</script>

<template>
  <div class="call">
    <label id="result-call">What it calls for</label>
    <Select
      :model-value="call.kind"
      :options="KINDS"
      option-label="name"
      option-value="key"
      fluid
      :disabled="disabled"
      aria-labelledby="result-call"
      @update:model-value="choose"
    />
    <template v-if="call.kind !== 'none'">
      <label for="result-button">Text on its button</label>
      <InputText
        id="result-button"
        :model-value="result.button"
        fluid
        maxlength="60"
        :disabled="disabled"
        @update:model-value="emit('change', { button: $event ?? '' })"
      />
    </template>
    <template v-if="address">
      <label for="result-address">Address</label>
      <InputText
        id="result-address"
        :model-value="address?.address"
        fluid
        maxlength="2000"
        :disabled="disabled"
        placeholder="https://firm.example"
        @update:model-value="put({ kind: 'address', address: $event ?? '' })"
      />
    </template>
    <FilePick
      v-else-if="file"
      :chosen="file.file"
      :disabled="disabled"
      called="File of the result"
      @choose="put({ kind: 'file', file: { id: $event.id, name: $event.name } })"
      @clear="put({ kind: 'file', file: null })"
    />
    <template v-else-if="point">
      <label id="result-point">What of ours</label>
      <Select
        :model-value="point.point || null"
        :options="points"
        option-label="name"
        option-value="key"
        filter
        fluid
        :disabled="disabled"
        placeholder="Choose a form, quiz or page"
        aria-labelledby="result-point"
        @update:model-value="put({ kind: 'point', point: $event })"
      />
      <p v-if="isGone" class="brick small" role="status">What it led to was put away. Choose another.</p>
    </template>
    <template v-else-if="meeting">
      <div class="two">
        <div>
          <label for="result-minutes">Minutes</label>
          <InputText
            id="result-minutes"
            :model-value="String(meeting.minutes)"
            inputmode="numeric"
            maxlength="3"
            fluid
            :disabled="disabled"
            @change="put({ ...meeting, minutes: within(typed($event), 10, 240, 30) })"
          />
        </div>
        <div>
          <label for="result-days">Days ahead to choose from</label>
          <InputText
            id="result-days"
            :model-value="String(meeting.days)"
            inputmode="numeric"
            maxlength="2"
            fluid
            :disabled="disabled"
            @change="put({ ...meeting, days: within(typed($event), 1, 60, 14) })"
          />
        </div>
      </div>
      <p class="faded small">Offered to those who said who they are and have an owner. Both get a calendar file by mail.</p>
    </template>
  </div>
</template>

<style scoped>
.call {
  display: grid;
  gap: 4px;
  min-width: 0;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
label {
  display: block;
  margin-top: 6px;
  font-size: 13px;
  line-height: 18px;
  color: var(--faded);
}
</style>

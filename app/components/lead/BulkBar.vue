<script setup lang="ts">
import { DateTime } from 'luxon'
import { STEP_KINDS, STEP_WORDS, type StepKind } from '#core/follow-up/state'
import { may } from '#core/roles'
import type { Status } from '#core/vocabulary'
import type { StatusSaid } from '~/composables/lead-acts'

/** Does something to many leads at once: those chosen, or all that the filters fit. It goes on by itself, and can be stopped and taken back. */
const props = defineProps<{
  chosen: string[]
  total: number
  /** The filters, as the list asks by them. */ query: Record<string, unknown>
}>()
const emit = defineEmits<{ done: [] }>()
interface Bulk {
  id: string
  state: 'working' | 'done' | 'stopped' | 'undoing' | 'undone'
  total: number
  done: number
  skipped: number
  undone: number
}
const house = useHouse()
const session = useSession()
const say = useToasts()
const MOST = 5000
const all = ref(false)
watch(
  () => [props.chosen.length, props.query],
  () => {
    all.value = false
  },
)
const many = computed(() => (all.value ? props.total : props.chosen.length))
const running = ref<Bulk | null>(null)
const what = ref('')
const shown = ref<'owner' | 'tags' | 'step' | null>(null)
const asking = ref<Status | null>(null)
const asksMore = ref(false)

async function start(act: Record<string, unknown>, words: string): Promise<boolean> {
  try {
    running.value = await api<Bulk>('/api/team/bulk', {
      method: 'POST',
      body: { act, ...(all.value ? {} : { leads: props.chosen }) },
      query: all.value ? props.query : {},
    })
    what.value = words
    shown.value = null
    emit('done')
    void follow()
    return true
  } catch (error) {
    say.failed(error)
    return false
  }
}
let timer: ReturnType<typeof setTimeout> | undefined
onBeforeUnmount(() => clearTimeout(timer))
async function follow(): Promise<void> {
  clearTimeout(timer)
  if (!running.value) return
  running.value = await api<Bulk>(`/api/team/bulk/${running.value.id}`).catch(() => running.value)
  const { state } = running.value!
  if (state === 'working' || state === 'undoing') timer = setTimeout(() => void follow(), 400)
  else emit('done')
}
async function turn(to: 'stop' | 'undo'): Promise<void> {
  try {
    running.value = await api<Bulk>(`/api/team/bulk/${running.value!.id}/${to}`, { method: 'POST' })
    void follow()
  } catch (error) {
    say.failed(error)
  }
}
const came = computed(() => {
  const { state, total, done, skipped, undone } = running.value!
  const changed = done - skipped
  if (state === 'working') return `${what.value}: ${done} of ${total}`
  if (state === 'undoing') return `Taking back: ${undone} of ${changed}`
  if (state === 'undone') return `${what.value}: taken back, where nobody had gone on from there`
  return `${what.value}: ${count(changed, 'lead', 'leads')}${skipped ? `, ${skipped} left as they were` : ''}${state === 'stopped' ? `, then stopped; ${total - done} to go` : ''}`
})

function chooseStatus(key: string): void {
  const status = house.words!.statuses.find(s => s.key === key)!
  if (!status.asks.length && status.stage !== 'parked') return void start({ do: 'status', status: key }, status.name)
  asking.value = status
  asksMore.value = true
}
const setStatus = (said: StatusSaid) => start({ do: 'status', status: asking.value!.key, ...said }, asking.value!.name)
const owners = computed(() => [
  ...house
    .words!.members.filter(m => may(m.role, 'work leads'))
    .map(m => ({ id: m.id as string | null, name: m.id === session.me!.id ? `${m.name} (you)` : m.name })),
  { id: null, name: 'Nobody' },
])
const to = ref<string | null | undefined>(undefined)
const words = ref('')
const tagsOn = ref('')
const tagsOff = ref('')
const tagList = (text: string) => [
  ...new Set(
    text
      .split(/[,\s]+/)
      .map(t => t.replace(/^#/, '').trim())
      .filter(Boolean),
  ),
]
const text = ref('')
const kind = ref<StepKind>('call')
const at = ref<Date | null>(DateTime.now().plus({ days: 1 }).set({ hour: 9, minute: 0, second: 0, millisecond: 0 }).toJSDate())
</script>

<template>
  <div v-if="chosen.length || running" class="bulk sheet" role="region" aria-label="Many at once">
    <template v-if="chosen.length">
      <b class="figures">{{ count(many, 'chosen', 'chosen') }}</b>
      <Button
        v-if="total > chosen.length && total <= MOST"
        size="small"
        variant="text"
        :label="all ? 'Only those ticked' : `All ${total.toLocaleString('en')} that fit`"
        @click="all = !all"
      />
      <Select
        :model-value="null"
        :options="house.words!.statuses"
        option-label="name"
        option-value="key"
        placeholder="Status …"
        size="small"
        aria-label="Set the status of those chosen"
        @update:model-value="chooseStatus"
      />
      <Button size="small" variant="outlined" label="Owner …" @click="shown = 'owner'" />
      <Button size="small" variant="outlined" label="Tags …" @click="shown = 'tags'" />
      <Button size="small" variant="outlined" label="Next step …" @click="shown = 'step'" />
    </template>
    <span v-if="running" class="came" role="status">{{ came }}
      <ProgressBar
        v-if="running.state === 'working' || running.state === 'undoing'"
        :value="Math.round((100 * (running.state === 'working' ? running.done : running.undone)) / Math.max(1, running.state === 'working' ? running.total : running.done - running.skipped))"
        :show-value="false"
        aria-label="How far it has come"
        class="bar"
      />
      <Button v-if="running.state === 'working'" size="small" variant="text" label="Stop" @click="turn('stop')" />
      <Button
        v-else-if="['done', 'stopped'].includes(running.state) && running.done > running.skipped"
        size="small"
        variant="outlined"
        label="Take it back"
        @click="turn('undo')"
      />
      <Button
        v-if="!['working', 'undoing'].includes(running.state)"
        size="small"
        variant="text"
        severity="secondary"
        label="Put away"
        @click="running = null"
      />
    </span>
    <LeadStatusDialog v-model:visible="asksMore" :name="count(many, 'lead', 'leads')" :status="asking" :set="setStatus" />
    <Dialog
      :visible="shown === 'owner'"
      modal
      :header="`Hand ${count(many, 'lead', 'leads')} over`"
      :style="{ width: '26rem' }"
      @update:visible="shown = null"
    >
      <form
        class="ask"
        @submit.prevent="start({ do: 'owner', owner: to, words }, to === null ? 'Nobody answers for them' : `Handed to ${house.memberName(to ?? null)}`)"
      >
        <label id="bulk-to">To</label>
        <Select
          v-model="to"
          :options="owners"
          option-label="name"
          option-value="id"
          aria-labelledby="bulk-to"
          placeholder="Choose a colleague, or nobody"
          fluid
        />
        <label for="bulk-words">A word to them, if you like</label>
        <Textarea id="bulk-words" v-model="words" rows="2" maxlength="600" fluid />
        <Button type="submit" label="Hand over" :disabled="to === undefined" />
      </form>
    </Dialog>
    <Dialog
      :visible="shown === 'tags'"
      modal
      :header="`Tags of ${count(many, 'lead', 'leads')}`"
      :style="{ width: '26rem' }"
      @update:visible="shown = null"
    >
      <form class="ask" @submit.prevent="start({ do: 'tags', add: tagList(tagsOn), remove: tagList(tagsOff) }, 'Tags changed')">
        <label for="bulk-on">Put on</label><InputText id="bulk-on" v-model="tagsOn" placeholder="spring, fair" fluid />
        <label for="bulk-off">Take off</label><InputText id="bulk-off" v-model="tagsOff" fluid />
        <Button type="submit" label="Change the tags" :disabled="!tagList(tagsOn).length && !tagList(tagsOff).length" />
      </form>
    </Dialog>
    <Dialog
      :visible="shown === 'step'"
      modal
      :header="`Next step of ${count(many, 'lead', 'leads')}`"
      :style="{ width: '26rem' }"
      @update:visible="shown = null"
    >
      <form class="ask" @submit.prevent="start({ do: 'next_step', text, kind, due: at!.toISOString() }, `Next: ${text}`)">
        <label for="bulk-step">What is to be done?</label><InputText id="bulk-step" v-model="text" maxlength="300" fluid />
        <label id="bulk-kind">What kind</label>
        <Select
          v-model="kind"
          :options="STEP_KINDS.map(value => ({ value, name: STEP_WORDS[value] }))"
          option-label="name"
          option-value="value"
          aria-labelledby="bulk-kind"
          fluid
        />
        <label id="bulk-at" for="bulk-due">When</label>
        <DatePicker
          v-model="at"
          input-id="bulk-due"
          show-time
          hour-format="24"
          date-format="D d M yy,"
          :step-minute="5"
          aria-labelledby="bulk-at"
          fluid
        />
        <Button type="submit" label="Set it" :disabled="!text.trim() || !at" />
      </form>
    </Dialog>
  </div>
</template>

<style scoped>
.bulk { position: sticky; top: 58px; z-index: 4; display: flex; flex-wrap: wrap; gap: 6px 10px; align-items: center; padding: 8px 14px; margin-bottom: 8px; }
.came { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; font-variant-numeric: tabular-nums; }
.bar { width: 140px; height: 6px; }
.ask { display: grid; gap: 6px; } .ask > .p-button { justify-self: start; margin-top: 6px; }
</style>

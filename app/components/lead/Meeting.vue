<script setup lang="ts">
/** A meeting that is to come, which can be moved or called off: they are told, and may choose another time themselves. */
const props = defineProps<{ lead: string; meeting: { id: string; starts: string; minutes: number; with: string }; disabled: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const house = useHouse()
const say = useToasts()
const asking = ref<'move' | 'off' | null>(null)
const words = ref('')
const busy = ref(false)
const address = computed(() => `/api/team/leads/${props.lead}/meetings/${props.meeting.id}`)

const offered = ref<{ free: string[]; with: { id: string; name: string } } | null>(null)
const days = computed(() => [...new Set(offered.value?.free.map(at => isoDay(new Date(at))))].map(iso => ({ iso, name: dayName(iso) })))
const chosenDay = ref<string | null>(null)
const times = computed(() =>
  (offered.value?.free ?? [])
    .filter(at => isoDay(new Date(at)) === chosenDay.value)
    .map(at => ({ at, name: new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' }) })),
)
const chosen = ref<string | null>(null)
watch(chosenDay, () => (chosen.value = times.value[0]?.at ?? null))
const dayName = (iso: string) => new Date(`${iso}T12:00:00`).toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' })

async function move(): Promise<void> {
  busy.value = true
  try {
    offered.value = await api(address.value)
    chosenDay.value = days.value[0]?.iso ?? null
    asking.value = 'move'
  } catch (error) {
    say.failed(error)
  } finally {
    busy.value = false
  }
}

async function send(): Promise<void> {
  const off = asking.value === 'off'
  busy.value = true
  try {
    await api(
      address.value,
      off ? { method: 'DELETE', body: { words: words.value } } : { method: 'PUT', body: { at: chosen.value, words: words.value } },
    )
    asking.value = null
    words.value = ''
    say.done(off ? 'The meeting is called off, and they are told.' : 'The meeting is moved, and they are told.')
    emit('changed')
  } catch (error) {
    say.failed(error)
    // Somebody else may have taken the time meanwhile.
    if (!off) offered.value = await api<typeof offered.value>(address.value).catch(() => offered.value)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="meeting">
    <p>
      They meet {{ house.memberName(meeting.with) }} <b>{{ due(meeting.starts) }}</b>, {{ meeting.minutes }} minutes.
      <template v-if="!disabled">
        <Button label="Move it …" size="small" variant="text" :loading="busy && !asking" @click="move" />
        <Button label="Call it off …" size="small" variant="text" severity="secondary" @click="asking = 'off'" />
      </template>
    </p>
    <Dialog
      :visible="asking !== null"
      modal
      :header="asking === 'move' ? 'Move the meeting' : 'Call the meeting off'"
      :style="{ width: 'min(28rem, 94vw)' }"
      @update:visible="asking = null"
    >
      <form class="off" @submit.prevent="send">
        <template v-if="asking === 'move' && offered">
          <p v-if="!days.length">{{ offered.with.name }} has no free hour within the days that are offered. Call it off, or make room.</p>
          <template v-else>
            <p>Free hours of {{ offered.with.name }}. They get a mail that moves it in their calendar, and a link if another time suits them
              better.</p>
            <div class="when">
              <span>
                <label for="move-day">Day</label>
                <Select v-model="chosenDay" input-id="move-day" :options="days" option-label="name" option-value="iso" fluid />
              </span>
              <span>
                <label for="move-time">Time</label>
                <Select v-model="chosen" input-id="move-time" :options="times" option-label="name" option-value="at" fluid />
              </span>
            </div>
          </template>
        </template>
        <p v-else>They get a mail that takes it out of their calendar, and a link to choose another time.</p>
        <template v-if="asking === 'off' || days.length">
          <label for="off-words">A word to them</label>
          <Textarea id="off-words" v-model="words" rows="3" maxlength="600" fluid />
          <p>
            <Button
              type="submit"
              :label="asking === 'move' ? 'Move it' : 'Call it off'"
              :severity="asking === 'move' ? undefined : 'danger'"
              :disabled="asking === 'move' && !chosen"
              :loading="busy"
            />
          </p>
        </template>
      </form>
    </Dialog>
  </div>
</template>

<style scoped>
.meeting { padding: 6px 14px; border-left: 3px solid var(--slate); background: var(--sheet); }
.off { display: grid; gap: 8px; }
.when { display: grid; grid-template-columns: 3fr 2fr; gap: 12px; }
</style>

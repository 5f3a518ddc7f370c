<script setup lang="ts">
import { HOWS, HOW_WORDS, TOLD, TOLD_WORDS, type Telling, type Told } from '#core/telling/telling'
import type { NoticeTexts } from '#core/telling/worded'

/** What reaches oneself, how and when; and, for who manages, what nobody may turn down. */
useHead({ title: 'What reaches you – Cavlin' })
const session = useSession()
const say = useToasts()
const { data, problem, refresh } = useLiveQuery(
  () => api<{ telling: Telling; insists: Told[]; texts: NoticeTexts }>('/api/team/telling'),
  { colleagues: true },
  800,
)
const mayInsist = computed(() => session.may('edit plan'))
async function put(change: Partial<Telling>): Promise<void> {
  const before = data.value!.telling
  const keep = async (telling: Telling) => {
    await api('/api/team/telling', { method: 'PUT', body: telling })
    await refresh()
  }
  try {
    await keep({ ...before, ...change })
    say.done('Kept.', () => keep(before))
  } catch (error) {
    say.failed(error)
    await refresh()
  }
}
async function insist(topic: Told, on: boolean): Promise<void> {
  const before = data.value!.insists
  try {
    await api('/api/team/telling/insists', { method: 'PUT', body: { insists: on ? [...before, topic] : before.filter(t => t !== topic) } })
    await refresh()
  } catch (error) {
    say.failed(error)
  }
}
const HOURS = Array.from({ length: 48 }, (_, i) => ({
  value: i * 30,
  name: `${String(Math.floor(i / 2)).padStart(2, '0')}:${i % 2 ? '30' : '00'}`,
}))
/** A chat is offered once it is set. */
const WAYS = computed(() =>
  HOWS.filter(how => how !== 'chat' || data.value?.telling.chat).map(value => ({ value, name: HOW_WORDS[value] })),
)
const chat = ref<string | null>(null)
const address = computed({
  get: () => chat.value ?? data.value?.telling.chat ?? '',
  set: typed => {
    chat.value = typed
  },
})
const flaw = ref('')
const trying = ref(false)
async function keepChat(): Promise<void> {
  flaw.value = ''
  const before = data.value!.telling
  const next = address.value.trim() || null
  try {
    await api('/api/team/telling', { method: 'PUT', body: { ...before, chat: next } })
    await refresh()
    chat.value = null
    say.done(next ? 'Your chat is set. Choose above what goes there.' : 'There is no chat any more; mails come instead.')
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
async function tryChat(): Promise<void> {
  flaw.value = ''
  trying.value = true
  try {
    await api('/api/team/telling/try', { method: 'POST' })
    say.done('A message went to your chat.')
  } catch (error) {
    flaw.value = (error as Error).message
  } finally {
    trying.value = false
  }
}
</script>

<template>
  <div class="page">
    <div class="head">
      <h1>What reaches you</h1>
      <p class="faded">The bell tells you everything, at once. Mails come as you choose here.</p>
    </div>
    <p v-if="problem && !data" role="alert" class="brick">{{ problem.message }}</p>
    <template v-if="data">
      <dl class="sheet">
        <template v-for="topic in TOLD" :key="topic">
          <dt :id="`told-${topic}`">{{ TOLD_WORDS[topic] }}</dt>
          <dd>
            <span v-if="data.insists.includes(topic)" class="faded">A mail at once: the firm insists on it.</span>
            <Select
              v-else
              :model-value="data.telling[topic]"
              :options="WAYS"
              option-label="name"
              option-value="value"
              :aria-labelledby="`told-${topic}`"
              @update:model-value="put({ [topic]: $event })"
            />
            <label v-if="mayInsist" class="tick">
              <Checkbox
                :model-value="data.insists.includes(topic)"
                binary
                :input-id="`insist-${topic}`"
                @update:model-value="insist(topic, $event)"
              />
              Nobody may turn it down</label>
          </dd>
        </template>
        <dt>Quiet hours</dt>
        <dd>
          <label class="tick">
            <Checkbox
              :model-value="data.telling.quiet !== null"
              binary
              input-id="quiet"
              @update:model-value="put({ quiet: $event ? { from: 1200, until: 420 } : null })"
            />
            No mails</label>
          <template v-if="data.telling.quiet">
            <span>from</span>
            <Select
              :model-value="data.telling.quiet.from"
              :options="HOURS"
              option-label="name"
              option-value="value"
              aria-label="Quiet from"
              @update:model-value="put({ quiet: { ...data.telling.quiet!, from: $event } })"
            />
            <span>until</span>
            <Select
              :model-value="data.telling.quiet.until"
              :options="HOURS"
              option-label="name"
              option-value="value"
              aria-label="Quiet until"
              @update:model-value="put({ quiet: { ...data.telling.quiet!, until: $event } })"
            />
            <span class="faded small">They come when it is over.</span>
          </template>
        </dd>
        <dt id="own-chat">A chat of your own</dt>
        <dd>
          <form class="chat" @submit.prevent="keepChat">
            <InputText
              v-model="address"
              type="url"
              placeholder="https://chat.example/hook/…"
              aria-labelledby="own-chat"
              maxlength="500"
              :invalid="Boolean(flaw)"
            />
            <Button
              type="submit"
              label="Keep it"
              size="small"
              variant="outlined"
              :disabled="address.trim() === (data?.telling.chat ?? '')"
            />
            <Button v-if="data?.telling.chat" type="button" label="Try it" size="small" variant="text" :loading="trying" @click="tryChat" />
          </form>
          <p v-if="flaw" role="alert" class="brick small">{{ flaw }}</p>
          <p class="faded small">The address of a webhook that takes JSON with a “text”. Whoever knows it can write there: it is shown to
            you alone.</p>
        </dd>
      </dl>
      <p class="faded small">A morning’s mail comes when your work begins. With a tab of Cavlin open, the browser can tell you too: the bell
        asks for that. A calendar file of a meeting comes at once in any case.</p>
      <NoticeTexts v-if="mayInsist && data" :texts="data.texts" @kept="refresh()" />
    </template>
  </div>
</template>

<style scoped>
dl { display: grid; grid-template-columns: minmax(200px, auto) 1fr; gap: 0; margin: 0 0 10px; max-width: 900px; }
dt, dd { margin: 0; padding: 10px 16px; border-top: 1px solid var(--rule); } dt:first-of-type, dd:first-of-type { border-top: 0; }
dd { display: flex; flex-wrap: wrap; gap: 6px 12px; align-items: center; }
.chat { display: flex; flex-wrap: wrap; gap: 8px; flex: 1 1 100%; } .chat .p-inputtext { flex: 1 1 260px; }
.tick { display: flex; gap: 7px; align-items: center; }
@media (max-width: 700px) { dl { grid-template-columns: minmax(0, 1fr); } dd { border-top: 0; padding-top: 0; } }
</style>

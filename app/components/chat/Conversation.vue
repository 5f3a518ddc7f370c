<script setup lang="ts">
import type { ConversationView, Presence, TeamLine } from '#core/chat/team'
import { poolOf, toPool } from '#core/chat/pools'
import { richText } from '#core/pages/markup'
import { PICTURE_TYPES, sizeText } from '#core/files/kinds'
import { may as mayDo } from '#core/roles'
import { writtenTo } from '#core/mails/personal'
import type { LeadView } from '#core/team'

/** A conversation as minutes of a meeting: times in the margin, names once, colleagues' notes beside the line they concern. */
const props = defineProps<{ id: string; may: boolean; presence: { member: string; presence: Presence; with: number }[] }>()
const emit = defineEmits<{ taken: []; close: [] }>()
const house = useHouse()
const session = useSession()
const say = useToasts()
const topics = () => ({ conversations: [props.id] })
const { data, problem, refresh } = useLiveQuery(() => api<ConversationView>(`/api/team/conversations/${props.id}`), topics, 60)
const text = useDraft(() => `chat ${props.id}`)
const isNote = ref(false)
const sending = ref(false)
const failed = ref('')
const box = ref<{ $el: HTMLTextAreaElement }>()
const log = ref<HTMLElement>()
const now = useNow(15_000)

/** Who is typing in it, some seconds long. */
const typing = ref<Record<string, number>>({})
const TYPING_MS = 6_000
const stop = useLive().hear(
  topics,
  change => {
    for (const w of change.writing ?? [])
      if (w.conversation === props.id) typing.value = { ...typing.value, [w.member ?? 'visitor']: Date.now() }
  },
  true,
)
const beat = useNow(2_000)
const typists = computed(() =>
  Object.entries(typing.value)
    .filter(([, at]) => beat.value - at < TYPING_MS)
    .map(([who]) => (who === 'visitor' ? name.value : house.memberName(who))),
)
onScopeDispose(stop)
let toldAt = 0
watch(text, typed => {
  if (!typed || isNote.value || Date.now() - toldAt < 3_000 || !props.may) return
  toldAt = Date.now()
  void api(`/api/team/conversations/${props.id}/seen`, { method: 'POST', body: { upTo: 0, typing: true } }).catch(() => {})
})

const name = computed(() => data.value?.lead?.name ?? 'The visitor')
const lines = computed(() => data.value?.lines ?? [])
const last = computed(() => lines.value.at(-1)?.n ?? 0)
const mine = computed(() => data.value?.member === session.me!.id && data.value.state === 'talking')
const other = computed(() => (data.value?.state === 'talking' && !mine.value ? data.value.member : null))
/** Pictures take their room only once they are there. */
function toEnd(): void {
  if (log.value) log.value.scrollTop = log.value.scrollHeight
}
/** What is read on the screen of somebody who leads it, or could, is read. */
watch(
  [last, () => data.value?.state],
  ([n]) => {
    void nextTick(toEnd)
    if (n && props.may && document.visibilityState === 'visible' && !other.value)
      void api(`/api/team/conversations/${props.id}/seen`, { method: 'POST', body: { upTo: n } }).catch(() => {})
  },
  { immediate: true },
)

const talk = ref<HTMLElement>()
// On a phone it is all that is looked at.
watch(talk, el => el && innerWidth <= 900 && el.scrollIntoView())
interface Row {
  line: TeamLine
  who: string
  notes: TeamLine[]
}
/** Lines with what stands in the margin beside them. */
const rows = computed(() => {
  const all: Row[] = []
  let before = ''
  for (const line of lines.value) {
    if (line.isNote) {
      if (all.length) all.at(-1)!.notes.push(line)
      else all.push({ line: { ...line, text: '', isNote: false, by: 'house' }, who: '', notes: [line] })
      continue
    }
    if (!line.text && line.more?.kind !== 'entry' && line.more?.kind !== 'picture') continue
    const who =
      line.by === 'visitor'
        ? name.value
        : line.by === 'member'
          ? house.memberName(line.member!)
          : line.by === 'flow'
            ? data.value!.point.name
            : ''
    all.push({ line, who: who === before ? '' : who, notes: [] })
    before = who
  }
  return all
})
function noteText(line: TeamLine): string {
  if (line.more?.kind === 'over') return 'ended it'
  if (line.more?.kind !== 'handed') return line.text
  const to = line.more.to ? `handed it to ${receiverName(line.more.to)}` : 'gave it back to whoever takes it'
  return line.text ? `${to}: ${line.text}` : to
}
const clock = (at: string) => new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
const dayOf = (at: string) => new Date(at).toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' })
const isNewDay = (i: number) => i === 0 || dayOf(rows.value[i]!.line.at) !== dayOf(rows.value[i - 1]!.line.at)

async function act(path: string, method: 'POST' | 'PUT', body: object): Promise<boolean> {
  try {
    data.value = await api<ConversationView>(`/api/team/conversations/${props.id}${path}`, { method, body })
    failed.value = ''
    return true
  } catch (error) {
    failed.value = (error as Error).message
    void refresh()
    return false
  }
}
/** The same text under the same id counts once, however often a shaky line makes somebody press. */
let sent = { text: '', id: '' }
async function send(): Promise<void> {
  const said = text.value.trim()
  if (!said || sending.value) return
  sending.value = true
  if (sent.text !== said) sent = { text: said, id: crypto.randomUUID() }
  const [wasMine, asNote] = [mine.value, isNote.value]
  if (await act('/messages', 'POST', { message: sent.id, text: said, note: asNote, after: last.value })) {
    // What was typed meanwhile is the next.
    if (text.value.trim() === said) text.value = ''
    sent = { text: '', id: '' }
    if (!wasMine && !asNote) emit('taken')
    if (asNote) isNote.value = false
  }
  sending.value = false
  box.value?.$el.focus()
}
const input = ref<HTMLInputElement>()
const busy = ref(false)
async function sendFiles(files: FileList | null): Promise<void> {
  if (!files?.length) return
  const body = new FormData()
  for (const [name, value] of Object.entries({ message: crypto.randomUUID(), note: isNote.value, after: last.value }))
    body.append(name, String(value))
  for (const file of files) body.append('file', file)
  const [wasMine, asNote] = [mine.value, isNote.value]
  busy.value = true
  if ((await act('/files', 'POST', body)) && !wasMine && !asNote) emit('taken')
  busy.value = false
  if (input.value) input.value.value = ''
}
async function take(): Promise<void> {
  if (await act('/member', 'PUT', { to: session.me!.id })) {
    emit('taken')
    box.value?.$el.focus()
  }
}
async function end(): Promise<void> {
  if (await act('/end', 'POST', {})) say.done('The conversation has ended. The visitor is asked how it was.')
}

const { pools, receiverName } = useReceivers()
const handing = ref(false)
const to = ref<string | null>(null)
const words = ref('')
const receivers = computed(() => [
  ...house
    .words!.members.filter(m => mayDo(m.role, 'work leads') && m.id !== session.me!.id)
    .map(m => {
      const p = props.presence.find(o => o.member === m.id)
      return {
        id: m.id as string | null,
        name: `${m.name} (${p?.presence ?? 'gone'}${p?.with ? `, ${count(p.with, 'conversation', 'conversations')}` : ''})`,
      }
    }),
  ...pools.value.map(l => ({ id: toPool(l.key) as string | null, name: `Whoever of ${l.name} takes it first` })),
  { id: null, name: 'Whoever takes it first' },
])
async function hand(): Promise<void> {
  if (!(await act('/member', 'PUT', { to: to.value, words: words.value }))) return
  handing.value = false
  words.value = ''
  say.done(
    to.value
      ? `${receiverName(to.value)} ${poolOf(to.value) === null ? 'has it now' : 'are told'}.`
      : 'It waits for whoever takes it first.',
  )
}

/** Texts of the team to answer with; what is known of the person stands in. */
const texts = ref<{ id: string; name: string; body: string }[]>([])
const menu = ref<{ toggle: (event: Event) => void; hide: () => void }>()
async function offer(event: Event): Promise<void> {
  menu.value?.toggle(event)
  if (texts.value.length) return
  try {
    texts.value = (await api<{ texts: { id: string; name: string; body: string }[] }>('/api/team/ready-texts')).texts
  } catch (error) {
    say.failed(error)
  }
}
async function put(body: string): Promise<void> {
  menu.value?.hide()
  const lead = data.value?.lead ? (await api<{ lead: LeadView }>(`/api/team/leads/${data.value.lead.id}`)).lead : null
  const known = lead ? Object.fromEntries(Object.entries(lead.properties).map(([key, value]) => [key, house.valueText(key, value)])) : {}
  const whole = writtenTo(
    body,
    lead ?? { firstName: null, lastName: null, name: '', company: null },
    { me: session.me!.name, house: house.words!.house.name },
    known,
  )
  // A chat needs neither a greeting nor a name below: both stand there already.
  const bare = whole.replace(/^(hello|dear)[^\n]*\n+/i, '').replace(/\n+With kind regards[^]*$/, '')
  text.value = [text.value, bare].filter(Boolean).join('\n')
  box.value?.$el.focus()
}
function onKey(event: KeyboardEvent): void {
  if (event.key === 'Enter' && !event.shiftKey && !event.isComposing) {
    event.preventDefault()
    void send()
  } else if (event.altKey && event.key === 't') {
    event.preventDefault()
    void offer(event)
  } else if (event.key === 'Escape') (event.target as HTMLElement).blur()
}
useKeys({
  r: () => box.value?.$el.focus(),
  t: () => {
    if (props.may && !mine.value) void take()
  },
})
</script>

<template>
  <p v-if="problem && !data" class="sheet gone" role="alert">
    {{ problem.message }} <Button label="Back to the list" variant="text" size="small" @click="emit('close')" />
  </p>
  <div v-else-if="data" class="both">
    <section ref="talk" class="talk" :aria-label="`Conversation with ${name}`">
      <header>
        <Button class="back" label="All conversations" variant="text" size="small" @click="emit('close')" />
        <h2>{{ name }}</h2>
        <p class="small faded">
          {{ data.point.name }}, edition {{ data.edition }},
          {{ ago(data.beganAt, now) }}<template v-if="data.page"> on <span class="page">{{ data.page }}</span></template>
        </p>
        <p class="small">
          <template v-if="data.state === 'flow'">The flow leads it.</template>
          <template v-else-if="data.state === 'waiting'">
            {{ data.member ? `Waits for ${data.member === session.me!.id ? 'you' : house.memberName(data.member)}.` : data.pool ? `Waits for whoever of ${data.pool} takes it first.` : 'Nobody has it yet.' }}<b
              v-if="data.dueAt && !data.answeredAt"
              :class="{ overdue: Date.parse(data.dueAt) < now }"
            >
              Answer by {{ due(data.dueAt, now) }}.</b>
          </template>
          <template v-else-if="data.state === 'talking'">{{ mine ? 'With you.' : `With ${house.memberName(data.member!)}.` }}</template>
          <template v-else>Over.<template v-if="data.rating"> They found it
              <b>{{ RATINGS[data.rating - 1]!.toLowerCase() }}</b>{{ data.ratingText ? `: “${data.ratingText}”` : '.' }}
            </template>
            <template v-else> Not rated.</template>
          </template>
        </p>
        <div v-if="may && data.state !== 'ended'" class="acts">
          <Button v-if="!mine" :label="other ? `Take it over from ${house.memberName(other)}` : 'Take it'" size="small" @click="take" />
          <Button label="Hand over …" size="small" variant="outlined" @click="handing = true" />
          <Button label="End it" size="small" variant="text" severity="secondary" @click="end" />
        </div>
      </header>
      <div ref="log" class="log" role="log" aria-label="What was said" tabindex="0">
        <template v-for="(row, i) in rows" :key="row.line.id">
          <p v-if="isNewDay(i)" class="day small faded">{{ dayOf(row.line.at) }}</p>
          <div class="line" :class="row.line.by">
            <time class="small faded figures" :datetime="row.line.at">{{ clock(row.line.at) }}</time>
            <div class="said">
              <b v-if="row.who">{{ row.who }}</b>
              <p v-if="row.line.more?.kind === 'entry'" class="small faded">Taken in as an entry.</p>
              <p v-else-if="row.line.more?.kind === 'files'" class="sent">
                <a v-for="f in row.line.more.files" :key="f.id" :href="`/api/team/files/${f.id}`" target="_blank" rel="noopener">
                  <img v-if="PICTURE_TYPES.includes(f.type)" :src="`/api/team/files/${f.id}`" :alt="f.name" @load="toEnd">
                  <template v-else>{{ f.name }}</template> <span class="small faded">{{ sizeText(f.size) }}</span>
                </a>
              </p>
              <p v-else-if="row.line.more?.kind === 'mailed'" class="small faded">They had left; it went to {{ row.line.more.to }} by
                mail.</p>
              <template v-else-if="row.line.more?.kind === 'note'">
                <!-- eslint-disable-next-line vue/no-v-html — our own notes, drawn without markup of their own -->
                <div class="rich" dir="auto" v-html="richText(row.line.text)" />
                <p class="small faded">From the note “{{ row.line.more.name }}”.</p>
              </template>
              <p v-else dir="auto">{{ row.line.text }}</p>
              <template v-if="row.line.more?.kind === 'mail'">
                <p class="small faded">
                  {{ row.line.more.auto ? 'By mail; a program of theirs answered.' : 'By mail.' }}<b v-if="row.line.more.from" class="overdue">
                    It came from {{ row.line.more.from }}, not from the address that we wrote to; the visitor does not see it here.</b>
                </p>
                <details v-if="row.line.more.quoted" class="small">
                  <summary>What they quoted, and their signature</summary>
                  <p class="faded">{{ row.line.more.quoted }}</p>
                </details>
              </template>
            </div>
            <div v-if="row.notes.length" class="margin small">
              <p v-for="n in row.notes" :key="n.id">
                <b>
                  {{ house.memberName(n.member!) }}
                </b> <a
                  v-for="f in n.more?.kind === 'files' ? n.more.files : []"
                  :key="f.id"
                  :href="`/api/team/files/${f.id}`"
                  target="_blank"
                  rel="noopener"
                >
                  {{ f.name }}
                </a>
                <template v-if="n.more?.kind !== 'files'">{{ noteText(n) }}</template>
              </p>
            </div>
          </div>
        </template>
        <p v-if="!rows.length" class="faded">Nothing was said yet.</p>
      </div>
      <p class="small faded status" role="status">
        {{ typists.length ? `${typists.join(' and ')} ${typists.length > 1 ? 'are' : 'is'} writing …` : data.lines.findLast(l => l.by === 'member' && !l.isNote) && data.seenByVisitor >= (data.lines.findLast(l => l.by === 'member' && !l.isNote)?.n ?? Infinity) ? 'They have read it.' : '' }}
      </p>
      <p v-if="failed" class="problem" role="alert">{{ failed }}</p>
      <form v-if="may && (data.state !== 'ended' || isNote)" class="write" :class="{ note: isNote }" @submit.prevent="send">
        <Textarea
          ref="box"
          v-model="text"
          rows="2"
          auto-resize
          maxlength="2000"
          :aria-label="isNote ? 'Note for colleagues' : 'Answer'"
          :placeholder="isNote ? 'A note that only colleagues see' : other ? `${house.memberName(other)} leads this one: take it over first, or leave a note` : 'Answer'"
          fluid
          @keydown="onKey"
        />
        <div class="below">
          <label class="tick small"><Checkbox v-model="isNote" binary input-id="chat-note" /> Only for colleagues</label>
          <Button label="File …" size="small" variant="text" :loading="busy" @click="input?.click()" />
          <input
            ref="input"
            type="file"
            multiple
            class="unseen"
            tabindex="-1"
            aria-hidden="true"
            @change="sendFiles(($event.target as HTMLInputElement).files)"
          >
          <Button size="small" variant="text" aria-haspopup="true" aria-keyshortcuts="Alt+T" @click="offer">Ready texts
            <kbd class="hint">Alt t</kbd>
          </Button>
          <Button type="submit" :label="isNote ? 'Note it' : 'Send'" size="small" :disabled="!text.trim() || sending" />
        </div>
      </form>
      <Popover ref="menu" aria-label="Ready texts">
        <ul class="texts">
          <li v-for="t in texts" :key="t.id"><Button :label="t.name" variant="text" size="small" @click="put(t.body)" /></li>
        </ul>
        <p v-if="!texts.length" class="small faded">There are none yet. Write some under
          <NuxtLink to="/follow-up/texts">Ready texts</NuxtLink>.</p>
      </Popover>
    </section>
    <aside class="person" aria-label="Who it is">
      <template v-if="data.answers.length && !data.lead">
        <h3>What they said</h3>
        <dl><template v-for="a in data.answers" :key="a.question"><dt>{{ a.question }}</dt><dd>{{ a.answer }}</dd></template></dl>
      </template>
      <LeadDetail v-if="data.lead" :id="data.lead.id" :key="data.lead.id" />
      <p v-else class="small faded">Not a lead yet: they have not said how to reach them.
        {{ data.visitor ? 'Their browser agreed to be remembered.' : 'Their browser is not remembered.' }}
      </p>
    </aside>
    <Dialog v-model:visible="handing" modal header="Hand this conversation over" :style="{ width: '26rem' }" :dismissable-mask="true">
      <form class="hand" @submit.prevent="hand">
        <label id="chat-to">To</label>
        <Select v-model="to" :options="receivers" option-label="name" option-value="id" aria-labelledby="chat-to" fluid />
        <label for="chat-words">A word to them, if you like</label>
        <Textarea id="chat-words" v-model="words" rows="3" maxlength="1000" fluid />
        <p class="small faded">They read it in the margin; the visitor does not.</p>
        <Button type="submit" label="Hand over" />
      </form>
    </Dialog>
  </div>
  <p v-else class="faded">Fetching …</p>
</template>

<style scoped>
.both { display: grid; grid-template-columns: minmax(0, 1fr) minmax(300px, 390px); gap: 20px; align-items: start; }
.talk { border: 1px solid var(--rule); background: var(--sheet); display: flex; flex-direction: column; height: calc(100vh - 190px); min-height: 480px; }
header { padding: 10px 16px; border-bottom: 1px solid var(--rule); } header p { margin: 0; }
.page { overflow-wrap: anywhere; }
.acts { display: flex; flex-wrap: wrap; gap: 6px; margin-top: 6px; }
.log { flex: 1; min-height: 0; overflow-y: auto; padding: 10px 16px; }
.day { margin: 10px 0 4px; border-bottom: 1px solid var(--rule); }
.line { display: grid; grid-template-columns: 46px minmax(0, 1fr) minmax(0, auto); gap: 0 10px; margin-bottom: 4px; }
.line time { line-height: 22px; }
.said b { display: block; margin-top: 6px; } .line:has(.said b) time { margin-top: 6px; } .said p { margin: 0; white-space: pre-line; overflow-wrap: anywhere; }
.line.visitor .said p { padding-inline-start: 10px; border-inline-start: 2px solid var(--spruce); }
.line.house .said p, .line.flow .said p { color: var(--faded); }
.margin { width: 190px; border-inline-start: 1px solid var(--honey-mark); padding-inline-start: 8px; } .margin p { margin: 0 0 4px; overflow-wrap: anywhere; }
.sent { display: flex; flex-wrap: wrap; gap: 4px 14px; } .sent a { overflow-wrap: anywhere; } .sent img { display: block; max-width: min(260px, 100%); max-height: 180px; border: 1px solid var(--rule); }

.rich { color: var(--faded); } .rich :deep(> *) { margin: 0 0 4px; white-space: normal; }
.said details p { white-space: pre-line; }
.status { margin: 0; padding: 0 16px; min-height: 20px; }
.overdue { color: var(--brick); }
.write { padding: 8px 16px 12px; border-top: 1px solid var(--rule); } .write.note { background: var(--wash); }
.below { display: flex; flex-wrap: wrap; gap: 6px 12px; align-items: center; margin-top: 6px; } .below > :last-child { margin-left: auto; }
.tick { display: flex; gap: 7px; align-items: center; }
.problem { margin: 0 16px; }
.talk, .log, .person { position: relative; } /* What is out of sight in them must not make the page longer. */
.person { border: 1px solid var(--rule); background: var(--sheet); padding: 12px 14px; overflow-x: hidden; max-height: calc(100vh - 190px); overflow-y: auto; }
.person dt { color: var(--faded); font-size: 13px; } .person dd { margin: 0 0 6px; overflow-wrap: anywhere; }
.texts { list-style: none; margin: 0; padding: 0; }
.hand { display: grid; gap: 6px; justify-items: start; } .hand > :deep(.p-select), .hand > :deep(textarea) { width: 100%; }
.back { display: none; } .gone { padding: 14px; }
@media (max-width: 1180px) { .both { grid-template-columns: minmax(0, 1fr); } .person { max-height: none; } }
@media (max-width: 900px) { .back { display: inline-flex; } .talk { height: calc(100dvh - 24px); } .line { grid-template-columns: 42px minmax(0, 1fr); } .margin { grid-column: 2; width: auto; } .hint { display: none; } }
</style>

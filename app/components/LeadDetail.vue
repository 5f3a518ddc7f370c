<script setup lang="ts">
import { fileOf } from '#core/files/kinds'
import type { LeadFile } from '#core/files/lead-file'
import { CALL_WORDS, type CallResult } from '#core/follow-up/state'
import type { Status } from '#core/vocabulary'
import type { PropertyValue } from '#core/properties/kinds'
import type { BrowserView, ClaimView, LeadView, ScoreCourseView } from '#core/team'
import { may } from '#core/roles'
import type { Hold } from '#core/scoring/label-held'
import type { MergeView } from '#core/review'
import type { TimelineLine } from '#core/timeline'

/** A lead whole: who, why now, what they said, what to do next. */
const props = defineProps<{ id: string; heading?: 'h1' | 'h2' }>()
const part = computed(() => (props.heading === 'h1' ? 'h2' : 'h3'))
const session = useSession()
const house = useHouse()
const say = useToasts()
const fresh = useLiveQuery(
  () =>
    api<{
      lead: LeadView
      timeline: TimelineLine[]
      lists: string[]
      browsers: BrowserView[]
      claims: ClaimView[]
      merges: MergeView[]
      meetings: { id: string; starts: string; minutes: number; with: string }[]
      sources: { first: string | null; latest: string | null }
    }>(`/api/team/leads/${props.id}`),
  () => ({ leads: [props.id] }),
)
const lead = computed(() => fresh.data.value?.lead ?? null)
const browsers = computed(() => fresh.data.value?.browsers ?? [])
const claims = computed(() => fresh.data.value?.claims ?? [])
const merges = computed(() => fresh.data.value?.merges ?? [])
const meetings = computed(() => fresh.data.value?.meetings ?? [])
const holding = ref(false)
/** What one of us set, or a form for a time, is said beside the label; a form's floor when somebody asks why. */
const held = computed(() => {
  const h = lead.value?.labelHeld
  return h && (h.by === 'person' || h.until || h.how === 'fixed') ? h : null
})
const heldWords = computed(() => {
  const { labelFloor, labelHeld: h } = lead.value!
  if (!labelFloor) return ''
  const name = `${h?.how === 'fixed' ? 'exactly' : 'at least'} ${house.labelName(labelFloor)}`
  if (!h || h.by === 'point')
    return `It is ${name} because of ${h ? `“${h.name}”` : 'a form they filled in'}${h?.until ? `, until ${due(h.until)}` : ''}.`
  return `${h.name} set it to ${name}${h.until ? ` until ${due(h.until)}` : ''}: ${h.reason}`
})
async function setLabel(body: { label: string | null; how: Hold; until: string | null; reason: string }): Promise<void> {
  if (await act('label', 'PUT', body))
    say.done(body.label ? `${lead.value!.name}: ${house.labelName(lead.value!.label)}` : 'The score decides again.')
}
const joins = ref(false)
// It went into another: that one is read under its own address.
watch(
  () => lead.value?.id,
  id => {
    if (id && id !== props.id && props.heading === 'h1') void navigateTo(`/follow-up/leads/${id}`, { replace: true })
  },
)
const sources = computed(() => fresh.data.value?.sources)
/** A source as people call it. */
const from = (source: string) => (source === 'direct' ? 'nowhere we know of' : source)
const timeline = computed(() => fresh.data.value?.timeline ?? [])
const mayWork = computed(() => session.may('work leads'))

const statusBox = ref<{ show: () => void; $el: HTMLElement }>()
const ownerBox = ref<{ show: () => void; $el: HTMLElement }>()
const noteBox = ref<{ focus: () => void }>()
const stepBox = ref<{ edit: () => void }>()
const why = ref(false)
/** The score over the lead's life, asked for when somebody wants to know why. */
const course = shallowRef<{ view: ScoreCourseView; now: number } | null>(null)
watch(
  () => [why.value, lead.value?.updatedAt, lead.value?.interest],
  async () => {
    if (!why.value) return
    try {
      course.value = { view: await api<ScoreCourseView>(`/api/team/leads/${props.id}/score`), now: Date.now() }
    } catch (error) {
      say.failed(error)
    }
  },
)
const note = useDraft(() => `note ${props.id}`)
const noteFiles = ref<LeadFile[]>([])
const noting = ref(false)

const { send, setStatus, setOwner, call, setStep, accept, sendBack } = useLeadActs(() => lead.value, fresh.refresh)
/** Sends an act that is not taken back by its version; what was typed stays when it fails. */
const act = async (path: string, method: 'PUT' | 'POST', body: object): Promise<boolean> => Boolean(await send(path, method, body))

/** The status that asks for more before it stands. */
const asking = ref<Status | null>(null)
const asksMore = ref(false)
function chooseStatus(key: string): void {
  const status = house.words!.statuses.find(s => s.key === key)
  if (!status || key === lead.value!.status) return
  if (!status.asks.length && !status.reasons.length && status.stage !== 'parked') return void setStatus(key)
  asking.value = status
  asksMore.value = true
}
/** Who may be given it, and whoever has it, though they may not, or have left. */
const owners = computed(() => {
  const able = house.words!.members.filter(m => may(m.role, 'work leads'))
  const { owner } = lead.value!
  return [...able, ...(owner && !able.some(m => m.id === owner.id) ? [owner] : []), null].map(m => ({
    id: m?.id ?? null,
    name: m?.name ?? 'Nobody',
  }))
})
const handing = ref(false)
const sending = ref(false)
// A link in a mail takes them: whoever follows it is signed in, and may take it back.
const route = useRoute()
const stopTaking = watch(lead, async now => {
  if (!now || props.heading !== 'h1' || !route.query.take) return
  stopTaking()
  await useRouter().replace({ query: {} })
  if (!mayWork.value) return
  if (now.acceptBy && now.owner?.id === session.me!.id) await accept(true)
  else if (now.owner?.id === session.me!.id) say.done(`${now.name} is yours already.`)
  else await setOwner(session.me!.id)
})
/** Whether a claimed address is theirs; or that the one they have is. */
async function judge(claim: ClaimView | null, theirs: boolean): Promise<void> {
  if (await act(claim ? `claims/${claim.id}` : 'vouched', 'PUT', claim ? { theirs } : {}))
    say.done(theirs ? `${claim?.address ?? lead.value!.email} is theirs.` : `${claim!.address} is not theirs. It gets no mail from us.`)
}
/** These visits were somebody else's. What they earned in interest goes with them. */
async function partFrom(browser: BrowserView): Promise<void> {
  try {
    await api(`/api/team/leads/${props.id}/browsers/${browser.visitorId}`, { method: 'DELETE' })
    await fresh.refresh()
    say.done('These visits are nobody’s again.', async () => {
      await api(`/api/team/leads/${props.id}/browsers/${browser.visitorId}`, { method: 'PUT' })
      await fresh.refresh()
    })
  } catch (error) {
    say.failed(error)
  }
}
async function addNote(): Promise<void> {
  if (!note.value.trim() || noting.value) return
  noting.value = true
  if (await act('notes', 'POST', { text: note.value, ...(noteFiles.value.length && { files: noteFiles.value.map(f => f.id) }) })) {
    note.value = ''
    noteFiles.value = []
  }
  noting.value = false
}
/** What is typed is what was said. */
async function called(result: CallResult): Promise<void> {
  if (noting.value || !mayWork.value) return
  noting.value = true
  calling.value = false
  if (await call(result, note.value)) note.value = ''
  noting.value = false
  leaveField()
}
/** After `c` the next key says what came of the call. */
const calling = ref(false)
const writing = ref(false)
const CALLS: { key: string; result: CallResult }[] = [
  { key: 'r', result: 'reached' },
  { key: 'm', result: 'left_message' },
  { key: 'n', result: 'not_reached' },
  { key: 'w', result: 'wrong_number' },
]
const onCallKey = (event: KeyboardEvent) => {
  if (!calling.value) return
  const chosen = CALLS.find(c => c.key === event.key.toLowerCase())
  if (!chosen && event.key !== 'Escape') return
  event.preventDefault()
  event.stopPropagation()
  if (chosen) void called(chosen.result)
  else calling.value = false
}
onMounted(() => window.addEventListener('keydown', onCallKey, true))
onBeforeUnmount(() => window.removeEventListener('keydown', onCallKey, true))
const article = ref<HTMLElement>()
async function changeStep(...change: Parameters<typeof setStep>): Promise<void> {
  await setStep(...change)
  leaveField()
}
/** Escape leaves a field; what is typed stays. */
const leaveField = () => article.value?.focus({ preventScroll: true })
const phone = computed(() => [lead.value?.properties.phone ?? []].flat()[0] ?? null)
const closed = computed(() =>
  ['won', 'lost', 'parked'].includes(house.words!.statuses.find(s => s.key === lead.value?.status)?.stage ?? ''),
)
/** How it ended last, or stands, in a line. */
const ended = computed(() => {
  const { outcome, wakesAt, status } = lead.value!
  if (!outcome) return ''
  const said = [
    `${house.statusName(outcome.status)} ${ago(outcome.at)}`,
    outcome.value !== undefined && outcome.value !== null && house.money(outcome.value),
  ]
    .filter(Boolean)
    .join(', ')
  const wakes = wakesAt && status === outcome.status ? ` They wake up ${due(wakesAt)}.` : ''
  return `${status === outcome.status ? '' : 'Before: '}${said}${outcome.reason ? `: ${outcome.reason}` : ''}.${wakes}`
})

/** Name and company have columns of their own; the address is who they are. */
const OWN: Record<string, 'firstName' | 'lastName' | 'company'> = { first_name: 'firstName', last_name: 'lastName', company: 'company' }
const valueAt = (key: string): PropertyValue | null => (OWN[key] ? lead.value?.[OWN[key]] : lead.value?.properties[key]) ?? null
/** One that is to be filled in, though nothing is known yet. */
const added = ref<string | null>(null)
const attributes = computed(() =>
  house.words!.properties.flatMap(property => {
    const value = valueAt(property.key)
    if (property.key === 'email' || (value === null && added.value !== property.key)) return []
    return [
      {
        key: property.key,
        property,
        value,
        text: value === null ? '' : house.valueText(property.key, value),
        since: sinceOf(property.key),
        files: [value ?? []].flat().flatMap(v => fileOf(v) ?? []),
      },
    ]
  }),
)
const unknown = computed(() =>
  house.words!.properties.filter(
    p => !p.retired && p.key !== 'email' && p.kind !== 'file' && valueAt(p.key) === null && added.value !== p.key,
  ),
)
/** What changed it last, as far as the timeline at hand tells. */
function sinceOf(key: string): string {
  const line = timeline.value.find(
    l =>
      (l.kind === 'edited' && l.payload.property === key) ||
      (l.kind === 'entry' && l.payload.changed?.some(c => c.property === key)) ||
      (l.kind === 'corrected' && l.payload.changed.some(c => c.property === key)) ||
      (l.kind === 'brought_in' && l.payload.filled?.some(f => f.property === key)),
  )
  if (!line) return ''
  return `${line.kind === 'entry' ? (line.payload.point ?? 'an entry') : line.kind === 'brought_in' ? `table “${line.payload.list}”` : line.kind === 'corrected' ? 'corrected by them' : (line.actor ?? '')}, ${ago(line.at)}`
}
async function edit(key: string, value: string | string[] | null, was: PropertyValue | null): Promise<boolean> {
  if (!(await act(`properties/${key}`, 'PUT', { value, was }))) return false
  added.value = null
  say.done(`${house.propertyName(key)}: ${valueAt(key) === null ? 'nothing' : house.valueText(key, valueAt(key)!)}`, async () => {
    // Amounts are typed in the whole unit, and kept in the smallest.
    const back =
      was !== null && house.words!.properties.find(p => p.key === key)?.kind === 'money'
        ? String(
            Number(was) /
              10 **
                (new Intl.NumberFormat('en', { style: 'currency', currency: house.words!.house.currency }).resolvedOptions()
                  .maximumFractionDigits ?? 2),
          )
        : was
    await api(`/api/team/leads/${props.id}/properties/${key}`, { method: 'PUT', body: { value: back, was: valueAt(key) } })
    await fresh.refresh()
  })
  return true
}
const routed = computed(() => timeline.value.find(l => l.kind === 'owner'))
const threshold = computed(() => house.words?.thresholds.find(t => t.label === lead.value?.label))
const WAY: Record<string, string> = {
  least_open: 'they had least open work',
  firm_owner: 'they own others of the firm',
  earlier_owner: 'they had it before',
}
const routedWhy = computed(() => {
  const { way, standsInFor } = (routed.value?.payload ?? {}) as { way?: string; standsInFor?: string }
  return standsInFor ? `they stood in for ${house.memberName(standsInFor)}` : (WAY[way ?? ''] ?? 'it was their turn')
})
/** What the label asks for; of nothing is not spoken. */
const asked = computed(() => {
  const { fit = 0, interest = 0 } = threshold.value ?? {}
  return (
    [fit > 0 && `a fit of ${fit}`, interest > 0 && `an interest of ${interest}`].filter(Boolean).join(' and ') || 'nothing in particular'
  )
})
if (props.heading === 'h1') useHead({ title: () => `${lead.value?.name ?? 'Lead'} – Cavlin` })

function focusInput(box: { $el: HTMLElement; show?: () => void } | undefined): void {
  const target = box?.$el
  ;(target?.matches?.('textarea,input') ? target : target?.querySelector<HTMLElement>('[role=combobox], input'))?.focus()
  box?.show?.()
}
useKeys({
  m: () => {
    if (mayWork.value && lead.value?.email && lead.value.submitted) writing.value = true
  },
  c: () => {
    if (mayWork.value && lead.value) calling.value = true
  },
  e: () => focusInput(statusBox.value),
  a: () => focusInput(ownerBox.value),
  n: () => noteBox.value?.focus(),
  s: () => stepBox.value?.edit(),
})
// Whoever has looked at somebody need not be told of them any more.
watch(
  () => lead.value?.updatedAt,
  updated => {
    if (updated) void api('/api/team/bell', { method: 'POST', body: { lead: props.id } }).catch(() => {})
  },
)
</script>

<template>
  <p v-if="fresh.problem.value && !lead" class="sheet gone" role="alert">
    {{ fresh.problem.value.status === 404 ? 'There is no such lead. Perhaps the link is incomplete.' : fresh.problem.value.message }}
  </p>
  <article v-else-if="lead" ref="article" class="lead" :aria-label="lead.name" tabindex="-1">
    <header>
      <LeadPin :fit="lead.fit" :interest="lead.interest" :reasons="lead.reasons" :size="44" />
      <div class="who">
        <component :is="heading ?? 'h2'" class="name">{{ lead.name }}</component>
        <p class="reach">
          <NuxtLink v-if="lead.company" :to="`/follow-up/firms/${lead.id}`">{{ lead.company }}</NuxtLink>
          <a v-if="lead.email" :href="`mailto:${lead.email}`">{{ lead.email }}</a>
          <a v-if="phone" :href="`tel:${phone.replace(/[^+\d]/g, '')}`">{{ phone }}</a>
        </p>
        <p class="marks">
          <LabelMark :label="lead.label" />
          <Button
            v-if="mayWork"
            label="Set it …"
            variant="text"
            size="small"
            severity="secondary"
            class="set-label"
            aria-label="Set the label"
            @click="holding = true"
          />
          <b v-if="!lead.submitted" class="small unsubmitted">Not sent yet</b>
          <WaitingMark v-if="lead.urgency" :urgency="lead.urgency" :by="lead.answerBy" />
          <span v-if="lead.tries" class="small">{{ count(lead.tries, 'call', 'calls') }} that reached nobody</span>
          <span v-for="tag in lead.tags" :key="tag" class="faded small">#{{ tag }}</span>
        </p>
      </div>
      <PersonalLinks v-if="session.may('make links')" :lead="lead.id" :name="lead.name" />
      <Button
        v-if="session.may('judge entries')"
        variant="text"
        size="small"
        severity="secondary"
        label="Same person as …"
        @click="joins = true"
      />
      <Button variant="text" size="small" :label="why ? 'Hide why' : 'Why?'" :aria-expanded="why" aria-controls="why" @click="why = !why" />
    </header>

    <p v-if="!lead.submitted" class="small unsubmitted-note">They typed this and never sent it: nobody owns it, and nobody is to write
      unless they agreed to mails. It becomes a lead like any other with the first entry they send.</p>
    <section v-if="claims.length || lead.guarded" class="claims" aria-label="Addresses to judge">
      <p v-for="c in claims" :key="c.id">
        <span>
          Somebody gave <b>{{ c.address }}</b> in their name, {{ ago(c.at) }}.
          {{ c.confirmed ? 'Whoever reads it says that it is theirs.' : 'Nobody has confirmed it: do not write to it.' }} Is it theirs?
        </span>
        <template v-if="session.may('judge entries')">
          <Button label="It is theirs" variant="outlined" size="small" :aria-label="`${c.address} is theirs`" @click="judge(c, true)" />
          <Button
            label="It is not"
            variant="text"
            size="small"
            severity="secondary"
            :aria-label="`${c.address} is not theirs`"
            @click="judge(c, false)"
          />
        </template>
      </p>
      <p v-if="lead.guarded">
        <span>
          <b>{{ lead.email }}</b> was given later by somebody who knew, say, their number, and confirmed.
          Until one of us has found out that it is theirs, nothing that we knew before goes to it.
        </span>
        <Button v-if="mayWork" label="It is theirs" variant="outlined" size="small" @click="judge(null, true)" />
      </p>
    </section>

    <p v-if="held || (lead.labelNext && !why)" class="small faded label-note">
      <span v-if="held">{{ heldWords }}<br></span>
      <span v-if="lead.labelNext && !why">If nothing happens, it is {{ house.labelName(lead.labelNext.label) }} from
        {{ due(lead.labelNext.at) }}.</span>
    </p>
    <LeadMeeting v-for="m in meetings" :key="m.id" :lead="id" :meeting="m" :disabled="!mayWork" @changed="fresh.refresh()" />
    <p v-if="ended" class="small ended">{{ ended }}</p>
    <p v-if="lead.acceptBy && lead.owner?.id === session.me!.id" class="claims accept">
      <span>They were handed to you. Take them until <b>{{ due(lead.acceptBy) }}</b>, or they go back.</span>
      <Button label="I take them" size="small" @click="accept(true)" />
      <Button label="Not me" size="small" variant="text" severity="secondary" @click="accept(false)" />
    </p>
    <p v-else-if="lead.acceptBy" class="small faded">
      {{ lead.owner?.name }} has to take them until {{ due(lead.acceptBy) }}, or they go back.</p>
    <HandOver v-if="mayWork" v-model:visible="handing" :name="lead.name" :owner="lead.owner?.id ?? null" :give="setOwner" />
    <LeadSendBack v-if="mayWork" v-model:visible="sending" :name="lead.name" :send="sendBack" />
    <LeadMailForm v-if="mayWork" v-model:visible="writing" :lead="lead" @sent="fresh.refresh()" @left="leaveField" />
    <LeadStatusDialog
      v-if="mayWork"
      v-model:visible="asksMore"
      :name="lead.name"
      :status="asking"
      :set="said => setStatus(asking!.key, said)"
      @left="leaveField"
    />
    <LabelHold v-model:visible="holding" :lead="lead" @set="setLabel" />
    <ReviewMergeList v-if="merges.length && session.may('judge entries')" :merges="merges" :name="lead.name" @apart="fresh.refresh()" />
    <ReviewJoinDialog v-model:visible="joins" :id="lead.id" :name="lead.name" />
    <section v-if="why" id="why" class="why" aria-label="Why this score, label and owner">
      <ReasonList :fit="lead.fit" :interest="lead.interest" :reasons="lead.reasons" />
      <template v-if="course?.view.moments.length">
        <component :is="part" class="part">On any day</component>
        <ScoringScoreCourse :course="course.view" :now="course.now" />
      </template>
      <p v-if="heldWords && lead.labelFloor === lead.label">{{ heldWords }}</p>
      <p v-else-if="threshold">{{ house.labelName(lead.label) }} asks for {{ asked }}. Here: {{ lead.fit }} and {{ lead.interest }}.</p>
      <p v-if="routed?.kind === 'owner' && routed.payload.by === 'plan'">
        {{ house.memberName(routed.payload.to) }} got it {{ ago(routed.at) }} through the lane “{{ routed.payload.lane }}”:
        {{ routedWhy }}.</p>
      <p v-else-if="routed?.kind === 'owner' && routed.payload.by === 'point'">
        {{ house.memberName(routed.payload.to) }} got it {{ ago(routed.at) }} because the form “{{ routed.payload.point }}” says so.</p>
      <p v-else-if="routed?.kind === 'owner'">
        {{ house.memberName(routed.payload.to) }} has it because {{ routed.actor }} said so, {{ ago(routed.at) }}.</p>
    </section>

    <section class="work" aria-label="Follow-up">
      <div class="field">
        <label id="status-label" for="status">Status</label>
        <Select
          ref="statusBox"
          input-id="status"
          :model-value="lead.status"
          :options="house.words!.statuses"
          option-label="name"
          option-value="key"
          aria-labelledby="status-label"
          :disabled="!mayWork"
          fluid
          @update:model-value="chooseStatus"
          @hide="leaveField"
        />
      </div>
      <div class="field">
        <label id="owner-label" for="owner">Owner</label>
        <div class="owner">
          <Select
            ref="ownerBox"
            input-id="owner"
            :model-value="lead.owner?.id ?? null"
            :options="owners"
            option-label="name"
            option-value="id"
            placeholder="Nobody"
            aria-labelledby="owner-label"
            :disabled="!mayWork"
            fluid
            @update:model-value="setOwner($event)"
          />
          <Button
            v-if="mayWork && lead.owner?.id !== session.me!.id"
            label="Take over"
            variant="outlined"
            @click="setOwner(session.me!.id)"
          />
          <Button v-if="mayWork && lead.owner" label="Send back …" variant="text" severity="secondary" @click="sending = true" />
          <Button v-if="mayWork" label="Hand over …" variant="text" severity="secondary" @click="handing = true" />
        </div>
      </div>
      <NextStep ref="stepBox" :step="lead.nextStep" :disabled="!mayWork" :closed="closed" @change="changeStep" @left="leaveField" />
    </section>

    <div class="columns">
      <section aria-label="What happened">
        <component :is="part" class="part">What happened</component>
        <form v-if="mayWork" class="note" @submit.prevent="addNote">
          <LeadNoteBox
            ref="noteBox"
            v-model="note"
            label="Note"
            placeholder="What was said? @ names a colleague, who is told."
            @keep="addNote"
            @left="leaveField"
          />
          <div class="said-by">
            <Button
              v-if="lead.email && lead.submitted"
              type="button"
              label="Write a mail …"
              size="small"
              variant="outlined"
              class="mail-button"
              @click="writing = true"
            />
            <Button type="submit" label="Keep the note" size="small" :disabled="!note.trim()" :loading="noting" />
            <LeadFilesToSend v-model="noteFiles" :lead="id" called="Note" />
            <span class="called" role="group" aria-label="Called">
              <span class="small faded">{{ calling ? 'Called. What came of it?' : 'Called:' }}</span>
              <Button
                v-for="c in CALLS"
                :key="c.result"
                type="button"
                size="small"
                variant="text"
                :disabled="noting"
                @click="called(c.result)"
              >
                {{ CALL_WORDS[c.result] }}<kbd v-if="calling">{{ c.key }}</kbd>
              </Button>
            </span>
          </div>
        </form>
        <LeadTimeline :id="id" :newest="timeline" :may-change="mayWork" @changed="fresh.refresh()" />
      </section>
      <section v-if="attributes.length || mayWork || house.words!.lists.length || browsers.length" aria-label="What we know">
        <component :is="part" class="part">What we know</component>
        <div v-if="house.words!.lists.length" class="lists">
          <label for="on-lists" class="faded">On lists</label>
          <ListPick
            id="on-lists"
            :model-value="fresh.data.value?.lists ?? []"
            :disabled="!mayWork"
            called="On lists"
            @update:model-value="act('lists', 'PUT', { lists: $event })"
          />
        </div>
        <dl class="attributes">
          <LeadPropertyRow
            v-for="attribute in attributes"
            :key="attribute.key"
            :property="attribute.property"
            :value="attribute.value"
            :text="attribute.text"
            :since="attribute.since"
            :disabled="!mayWork"
            :keep="value => edit(attribute.key, value, attribute.value)"
            @left="leaveField"
          >
            <a v-for="f in attribute.files" :key="f.id" :href="`/api/team/files/${f.id}`" class="file">{{ f.name }}</a>
          </LeadPropertyRow>
        </dl>
        <Select
          v-if="mayWork && unknown.length"
          :model-value="null"
          :options="unknown"
          option-label="label"
          option-value="key"
          size="small"
          placeholder="Something else …"
          aria-label="Add something that is known"
          class="add-property"
          @update:model-value="added = $event"
        />
        <dl v-if="sources?.first" class="attributes">
          <dt>First came from</dt>
          <dd>{{ from(sources.first) }}</dd>
          <template v-if="sources.latest && sources.latest !== sources.first">
            <dt>Came lately from</dt>
            <dd>{{ from(sources.latest) }}</dd>
          </template>
        </dl>
        <template v-if="browsers.length">
          <p class="faded browsers">Known on</p>
          <ul class="browsers">
            <li v-for="b in browsers" :key="b.visitorId">
              <span>
                {{ b.device && b.device !== 'other' ? `a ${b.device}` : 'a browser' }}
                <span class="faded small">
                  {{ count(b.visits, 'visit', 'visits') }}<template v-if="b.lastAt">, {{ ago(b.lastAt) }}</template>
                  <template v-if="!b.proven">, as they say</template>
                </span>
              </span>
              <Button
                v-if="mayWork"
                label="Not them"
                variant="text"
                size="small"
                severity="secondary"
                :aria-label="`Not them: ${b.device ?? 'a browser'}, ${count(b.visits, 'visit', 'visits')}`"
                @click="partFrom(b)"
              />
            </li>
          </ul>
        </template>
      </section>
    </div>
    <nav v-if="mayWork" class="thumb" aria-label="At hand">
      <a v-if="phone" :href="`tel:${phone.replace(/[^+\d]/g, '')}`" class="p-button p-component" @click="calling = true">Call</a>
      <Button label="Note" variant="outlined" @click="noteBox?.focus()" />
      <Button label="Next step" variant="outlined" @click="stepBox?.edit()" />
    </nav>
  </article>
  <p v-else class="faded loading">Fetching …</p>
</template>

<style scoped>
.lead { container-type: inline-size; display: grid; grid-template-columns: minmax(0, 1fr); gap: 14px; }
header { display: flex; gap: 14px; align-items: flex-start; }
.who { flex: 1; min-width: 0; overflow-wrap: anywhere; }
.name { font-size: 22px; line-height: 28px; }
.marks { display: flex; flex-wrap: wrap; gap: 2px 16px; align-items: center; margin-top: 3px; }
.set-label { padding-block: 0; margin-left: -8px; } .label-note { margin-top: -6px; }
.unsubmitted { color: var(--honey); } .unsubmitted-note { padding: 8px 14px; border-left: 3px solid var(--honey-mark); background: var(--sheet); }
.why { display: grid; gap: 10px; padding: 12px 14px; border-left: 3px solid var(--slate); background: var(--sheet); }
.claims { display: grid; gap: 8px; padding: 8px 14px; border-left: 3px solid var(--honey-mark); background: var(--sheet); }
.claims p { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; }
.claims span { flex: 1 1 300px; min-width: 0; overflow-wrap: anywhere; }
.work { display: grid; grid-template-columns: minmax(140px, 1fr) minmax(230px, 1.5fr) minmax(220px, 1.7fr); gap: 12px 18px; padding: 12px 0; border-block: 1px solid var(--rule); }
.field label { display: block; font-size: 13px; line-height: 18px; color: var(--faded); margin-bottom: 3px; }
.owner { display: flex; flex-wrap: wrap; gap: 6px 8px; }
.owner .p-select { flex: 1 1 130px; min-width: 0; } .owner .p-button { flex: none; }
.columns { display: grid; grid-template-columns: minmax(0, 1fr) minmax(170px, 240px); gap: 28px; align-items: start; }
.part { font-size: 15px; line-height: 22px; }
.lead:focus { outline: none; }
.reach { display: flex; flex-wrap: wrap; gap: 0 14px; line-height: 24px; }
.reach a { display: inline-block; min-height: 24px; }
.ended { padding: 6px 14px; border-left: 3px solid var(--rule); }
.accept { display: flex; flex-wrap: wrap; gap: 6px 10px; align-items: center; }
.note { display: grid; gap: 6px; margin: 8px 0 12px; }
.said-by, .called { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; } .called { gap: 0 2px; } .called kbd { margin-left: 6px; }
.mail-button { order: 1; margin-left: auto; }
.thumb { display: none; }
.attributes { margin: 8px 0 0; font-size: 14px; line-height: 20px; }
.attributes dt { color: var(--faded); margin-top: 8px; }
.attributes dd { margin: 0; white-space: pre-wrap; overflow-wrap: anywhere; max-height: 16rem; overflow: auto; }
.file { display: block; } .add-property { margin-top: 10px; }
.browsers { list-style: none; padding: 0; margin: 10px 0 0; font-size: 14px; line-height: 20px; }
ul.browsers { margin: 0; } ul.browsers .p-button { flex: none; white-space: nowrap; } ul.browsers li { display: flex; justify-content: space-between; align-items: center; gap: 6px; }
.lists { font-size: 14px; margin-top: 8px; }
.gone { padding: 16px; }
@container (max-width: 700px) { .columns { grid-template-columns: 1fr; } .columns section:nth-child(2) { order: -1; } .work { grid-template-columns: 1fr 1fr; } .work > :last-child { grid-column: 1 / -1; } }
@media (max-width: 700px) {
  .thumb { display: flex; gap: 8px; position: sticky; bottom: 0; margin: 0 -12px -14px; padding: 10px 12px; background: var(--sheet); border-top: 1px solid var(--rule); z-index: 3; }
  .thumb > * { flex: 1; justify-content: center; text-decoration: none; }
}
@container (max-width: 520px) { header { flex-wrap: wrap; } .who { flex-basis: calc(100% - 58px); } .work { grid-template-columns: minmax(0, 1fr); } }
</style>

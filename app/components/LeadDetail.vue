<script setup lang="ts">
import { fileOf } from '#core/files/kinds'
import type { BrowserView, ClaimView, LeadView, ScoreCourseView } from '#core/team'
import type { TimelineLine } from '#core/timeline'

/** A lead whole: who, why now, what they said, what to do next. */
const props = defineProps<{ id: string; heading?: 'h1' | 'h2' }>()
const part = computed(() => props.heading === 'h1' ? 'h2' : 'h3')
const session = useSession()
const house = useHouse()
const say = useToasts()
const fresh = useLiveQuery(
  () => api<{ lead: LeadView; timeline: TimelineLine[]; lists: string[]; browsers: BrowserView[]; claims: ClaimView[]; sources: { first: string | null; latest: string | null } }>(`/api/team/leads/${props.id}`), () => ({ leads: [props.id] }))
const lead = computed(() => fresh.data.value?.lead ?? null)
const browsers = computed(() => fresh.data.value?.browsers ?? [])
const claims = computed(() => fresh.data.value?.claims ?? [])
const sources = computed(() => fresh.data.value?.sources)
/** A source as people call it. */
const from = (source: string) => source === 'direct' ? 'nowhere we know of' : source
const timeline = computed(() => fresh.data.value?.timeline ?? [])
const mayWork = computed(() => session.may('work leads'))

const statusBox = ref<{ show: () => void; $el: HTMLElement }>()
const ownerBox = ref<{ show: () => void; $el: HTMLElement }>()
const noteBox = ref<{ $el: HTMLTextAreaElement }>()
const stepBox = ref<{ edit: () => void }>()
const why = ref(false)
/** The score over the lead's life, asked for when somebody wants to know why. */
const course = shallowRef<{ view: ScoreCourseView; now: number } | null>(null)
watch(() => [why.value, lead.value?.updatedAt, lead.value?.interest], async () => {
  if (!why.value) return
  try {
    course.value = { view: await api<ScoreCourseView>(`/api/team/leads/${props.id}/score`), now: Date.now() }
  } catch (error) {
    say.failed(error)
  }
})
const note = ref('')
const noting = ref(false)

/** Sends an act and shows what came of it; what was typed stays when it fails. */
async function act(path: string, method: 'PUT' | 'POST', body: object): Promise<boolean> {
  try {
    await api(`/api/team/leads/${props.id}/${path}`, { method, body })
    await fresh.refresh()
    return true
  } catch (error) {
    say.failed(error)
    return false
  }
}
/** Whether the lead is as it was left: a colleague may have gone on from there. */
const stillSo = (like: (lead: LeadView) => boolean) => async () => like((await api<{ lead: LeadView }>(`/api/team/leads/${props.id}`)).lead)
async function setStatus(status: string): Promise<void> {
  const before = lead.value!.status
  if (status !== before && await act('status', 'PUT', { status }))
    say.done(`${lead.value!.name}: ${house.statusName(status)}`, () => act('status', 'PUT', { status: before }), stillSo(l => l.status === status))
}
async function setOwner(owner: string): Promise<void> {
  const before = lead.value!.owner
  if (owner !== before?.id && await act('owner', 'PUT', { owner }))
    say.done(owner === session.me!.id ? `${lead.value!.name} is yours now` : `${lead.value!.name} goes to ${house.memberName(owner)}`, before ? () => act('owner', 'PUT', { owner: before.id }) : undefined, stillSo(l => l.owner?.id === owner))
}
/** Whether a claimed address is theirs; or that the one they have is. */
async function judge(claim: ClaimView | null, theirs: boolean): Promise<void> {
  if (await act(claim ? `claims/${claim.id}` : 'vouched', 'PUT', claim ? { theirs } : {})) say.done(theirs ? `${claim?.address ?? lead.value!.email} is theirs.` : `${claim!.address} is not theirs. It gets no mail from us.`)
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
  if (await act('notes', 'POST', { text: note.value })) note.value = ''
  noting.value = false
}
async function setStep(step: { text: string; due: string } | null, done: boolean): Promise<void> {
  const before = lead.value!.nextStep
  const ok = await act('next-step', 'PUT', step ? { ...step } : { text: null, done })
  if (ok && !step && before) say.done(done ? `Done: ${before.text}` : `Taken away: ${before.text}`, () => act('next-step', 'PUT', { ...before }), stillSo(l => l.nextStep === null))
}

const attributes = computed(() => Object.entries(lead.value?.properties ?? {}).map(([key, text]) => ({ key, name: house.propertyName(key), text: house.valueText(key, text), files: [text].flat().flatMap(v => fileOf(v) ?? []) })))
const routed = computed(() => timeline.value.find(l => l.kind === 'owner'))
const threshold = computed(() => house.words?.thresholds.find(t => t.label === lead.value?.label))

function focusInput(box: { $el: HTMLElement; show?: () => void } | undefined): void {
  const target = box?.$el
  ;(target?.matches?.('textarea,input') ? target : target?.querySelector<HTMLElement>('[role=combobox], input'))?.focus()
  box?.show?.()
}
useKeys({
  e: () => focusInput(statusBox.value), a: () => focusInput(ownerBox.value), n: () => focusInput(noteBox.value as never), s: () => stepBox.value?.edit(),
})
// Whoever has looked at somebody need not be told of them any more.
watch(() => lead.value?.updatedAt, (updated) => {
  if (updated) void api('/api/team/bell', { method: 'POST', body: { lead: props.id } }).catch(() => {})
})
</script>

<template>
  <p v-if="fresh.problem.value && !lead" class="sheet gone" role="alert">{{ fresh.problem.value.status === 404 ? 'There is no such lead. Perhaps the link is incomplete.' : fresh.problem.value.message }}</p>
  <article v-else-if="lead" class="lead" :aria-label="lead.name">
    <header>
      <LeadPin :fit="lead.fit" :interest="lead.interest" :reasons="lead.reasons" :size="44" />
      <div class="who">
        <component :is="heading ?? 'h2'" class="name">{{ lead.name }}</component>
        <p><span v-if="lead.company">{{ lead.company }}, </span><a v-if="lead.email" :href="`mailto:${lead.email}`">{{ lead.email }}</a><a v-else-if="lead.properties.phone" :href="`tel:${lead.properties.phone}`">{{ lead.properties.phone }}</a></p>
        <p class="marks"><LabelMark :label="lead.label" /><b v-if="!lead.submitted" class="small unsubmitted">Not sent yet</b><WaitingMark v-if="lead.urgency" :urgency="lead.urgency" /><span v-for="tag in lead.tags" :key="tag" class="faded small">#{{ tag }}</span></p>
      </div>
      <PersonalLinks v-if="session.may('make links')" :lead="lead.id" :name="lead.name" />
      <Button variant="text" size="small" :label="why ? 'Hide why' : 'Why?'" :aria-expanded="why" aria-controls="why" @click="why = !why" />
    </header>

    <p v-if="!lead.submitted" class="small unsubmitted-note">They typed this and never sent it: nobody owns it, and nobody is to write unless they agreed to mails. It becomes a lead like any other with the first entry they send.</p>
    <section v-if="claims.length || lead.guarded" class="claims" aria-label="Addresses to judge">
      <p v-for="c in claims" :key="c.id">
        <span>
          Somebody gave <b>{{ c.address }}</b> in their name, {{ ago(c.at) }}.
          {{ c.confirmed ? 'Whoever reads it says that it is theirs.' : 'Nobody has confirmed it: do not write to it.' }} Is it theirs?
        </span>
        <template v-if="session.may('judge entries')">
          <Button label="It is theirs" variant="outlined" size="small" :aria-label="`${c.address} is theirs`" @click="judge(c, true)" />
          <Button label="It is not" variant="text" size="small" severity="secondary" :aria-label="`${c.address} is not theirs`" @click="judge(c, false)" />
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

    <section v-if="why" id="why" class="why" aria-label="Why this score, label and owner">
      <ReasonList :fit="lead.fit" :interest="lead.interest" :reasons="lead.reasons" />
      <template v-if="course?.view.moments.length">
        <component :is="part" class="part">On any day</component>
        <ScoringScoreCourse :course="course.view" :now="course.now" />
      </template>
      <p v-if="lead.labelFloor && lead.labelFloor === lead.label">The label {{ house.labelName(lead.label) }} was given by a form they filled in; the score lifts it, but does not take it away.</p>
      <p v-else-if="threshold">{{ house.labelName(lead.label) }} asks for <template v-if="threshold.fit > 0">a fit of {{ threshold.fit }} and </template>an interest of {{ threshold.interest }}. Here: {{ lead.fit }} and {{ lead.interest }}.</p>
      <p v-if="routed?.kind === 'owner' && routed.payload.by === 'plan'">{{ house.memberName(routed.payload.to) }} got it {{ ago(routed.at) }} through the lane “{{ routed.payload.lane }}”: it was their turn.</p>
      <p v-else-if="routed?.kind === 'owner' && routed.payload.by === 'point'">{{ house.memberName(routed.payload.to) }} got it {{ ago(routed.at) }} because the form “{{ routed.payload.point }}” says so.</p>
      <p v-else-if="routed?.kind === 'owner'">{{ house.memberName(routed.payload.to) }} has it because {{ routed.actor }} said so, {{ ago(routed.at) }}.</p>
    </section>

    <section class="work" aria-label="Follow-up">
      <div class="field">
        <label id="status-label" for="status">Status</label>
        <Select ref="statusBox" input-id="status" :model-value="lead.status" :options="house.words!.statuses" option-label="name" option-value="key" aria-labelledby="status-label" :disabled="!mayWork" fluid @update:model-value="setStatus" />
      </div>
      <div class="field">
        <label id="owner-label" for="owner">Owner</label>
        <div class="owner">
          <Select ref="ownerBox" input-id="owner" :model-value="lead.owner?.id" :options="house.words!.members" option-label="name" option-value="id" placeholder="Nobody" aria-labelledby="owner-label" :disabled="!mayWork" fluid @update:model-value="setOwner" />
          <Button v-if="mayWork && lead.owner?.id !== session.me!.id" label="Take over" variant="outlined" @click="setOwner(session.me!.id)" />
        </div>
      </div>
      <NextStep ref="stepBox" :step="lead.nextStep" :disabled="!mayWork" @change="setStep" />
    </section>

    <div class="columns">
      <section aria-label="What happened">
        <component :is="part" class="part">What happened</component>
        <form v-if="mayWork" class="note" @submit.prevent="addNote">
          <Textarea ref="noteBox" v-model="note" rows="2" auto-resize fluid placeholder="What was said?" aria-label="Note" @keydown.ctrl.enter="addNote" @keydown.meta.enter="addNote" />
          <Button type="submit" label="Keep the note" size="small" :disabled="!note.trim()" :loading="noting" />
        </form>
        <TimelineList :lines="timeline" />
      </section>
      <section v-if="attributes.length || house.words!.lists.length || browsers.length" aria-label="What we know">
        <component :is="part" class="part">What we know</component>
        <div v-if="house.words!.lists.length" class="lists"><label for="on-lists" class="faded">On lists</label><ListPick id="on-lists" :model-value="fresh.data.value?.lists ?? []" :disabled="!mayWork" called="On lists" @update:model-value="act('lists', 'PUT', { lists: $event })" /></div>
        <dl class="attributes"><template v-for="attribute in attributes" :key="attribute.key"><dt>{{ attribute.name }}</dt><dd><template v-if="attribute.files.length"><a v-for="f in attribute.files" :key="f.id" :href="`/api/team/files/${f.id}`" class="file">{{ f.name }}</a></template><template v-else>{{ attribute.text }}</template></dd></template></dl>
        <dl v-if="sources?.first" class="attributes"><dt>First came from</dt><dd>{{ from(sources.first) }}</dd><template v-if="sources.latest && sources.latest !== sources.first"><dt>Came lately from</dt><dd>{{ from(sources.latest) }}</dd></template></dl>
        <template v-if="browsers.length">
          <p class="faded browsers">Known on</p>
          <ul class="browsers">
            <li v-for="b in browsers" :key="b.visitorId"><span>{{ b.device && b.device !== 'other' ? `a ${b.device}` : 'a browser' }} <span class="faded small">{{ count(b.visits, 'visit', 'visits') }}<template v-if="b.lastAt">, {{ ago(b.lastAt) }}</template><template v-if="!b.proven">, as they say</template></span></span><Button v-if="mayWork" label="Not them" variant="text" size="small" severity="secondary" :aria-label="`Not them: ${b.device ?? 'a browser'}, ${count(b.visits, 'visit', 'visits')}`" @click="partFrom(b)" /></li>
          </ul>
        </template>
      </section>
    </div>
  </article>
  <p v-else class="faded loading">Fetching …</p>
</template>

<style scoped>
.lead { display: grid; grid-template-columns: minmax(0, 1fr); gap: 14px; }
header { display: flex; gap: 14px; align-items: flex-start; }
.who { flex: 1; min-width: 0; overflow-wrap: anywhere; }
.name { font-size: 22px; line-height: 28px; }
.marks { display: flex; flex-wrap: wrap; gap: 2px 16px; align-items: center; margin-top: 3px; }
.unsubmitted { color: var(--honey); } .unsubmitted-note { padding: 8px 14px; border-left: 3px solid var(--honey-mark); background: var(--sheet); }
.why { display: grid; gap: 10px; padding: 12px 14px; border-left: 3px solid var(--slate); background: var(--sheet); }
.claims { display: grid; gap: 8px; padding: 8px 14px; border-left: 3px solid var(--honey-mark); background: var(--sheet); }
.claims p { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; }
.claims span { flex: 1 1 300px; min-width: 0; overflow-wrap: anywhere; }
.work { display: grid; grid-template-columns: minmax(140px, 1fr) minmax(230px, 1.5fr) minmax(220px, 1.7fr); gap: 12px 18px; padding: 12px 0; border-block: 1px solid var(--rule); }
.field label { display: block; font-size: 13px; line-height: 18px; color: var(--faded); margin-bottom: 3px; }
.owner { display: flex; gap: 8px; }
.owner .p-button { flex: none; }
.columns { display: grid; grid-template-columns: minmax(0, 1fr) minmax(170px, 240px); gap: 28px; align-items: start; }
.part { font-size: 15px; line-height: 22px; }
.note { display: grid; gap: 6px; justify-items: start; margin: 8px 0 12px; }
.attributes { margin: 8px 0 0; font-size: 14px; line-height: 20px; }
.attributes dt { color: var(--faded); margin-top: 8px; }
.attributes dd { margin: 0; white-space: pre-wrap; overflow-wrap: anywhere; max-height: 16rem; overflow: auto; }
.file { display: block; }
.browsers { list-style: none; padding: 0; margin: 10px 0 0; font-size: 14px; line-height: 20px; }
ul.browsers { margin: 0; } ul.browsers .p-button { flex: none; white-space: nowrap; } ul.browsers li { display: flex; justify-content: space-between; align-items: center; gap: 6px; }
.lists { font-size: 14px; margin-top: 8px; }
.gone { padding: 16px; }
@media (max-width: 900px) { .columns { grid-template-columns: 1fr; } .columns section:nth-child(2) { order: -1; } .work { grid-template-columns: 1fr 1fr; } .work > :last-child { grid-column: 1 / -1; } }
@media (max-width: 560px) { header { flex-wrap: wrap; } .who { flex-basis: calc(100% - 58px); } .work { grid-template-columns: minmax(0, 1fr); } }
</style>

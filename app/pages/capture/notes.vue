<script setup lang="ts">
import type { FoundNote, HitRate, NoteView, NotesView, Verdict } from '#core/chat/notes-view'
import { LANGUAGES } from '#core/languages/language'
import { notesIn, type NoteText } from '#core/chat/notes-in'

/** The short texts that chats answer from: written here, tried on questions, and what they could not answer. */
useHead({ title: 'Notes – Cavlin' })
const session = useSession()
const say = useToasts()
const { data, problem, refresh } = useLiveQuery(() => api<NotesView>('/api/team/notes'), { notes: true }, 300)
const mayEdit = computed(() => session.may('edit notes'))
const search = ref('')
const shown = computed(() => {
  const words = search.value.trim().toLowerCase()
  return (data.value?.notes ?? []).filter(n => !words || `${n.title} ${n.body}`.toLowerCase().includes(words))
})

const chosen = ref<NoteView | null>(null)
const flaws = ref<{ field: string; message: string }[]>([])
const flaw = (field: string) => flaws.value.find(f => f.field === field)?.message
/** Unanswered questions that the note in hand is to answer. */
const answers = ref<string[]>([])
function open(note: NoteView | null, from: { text: string; ids: string[] } | null = null): void {
  flaws.value = []
  answers.value = from?.ids ?? []
  chosen.value = note
    ? { ...note }
    : { id: crypto.randomUUID(), title: (from?.text ?? '').replace(/\?+$/, '').slice(0, 120), body: '', source: null, changedAt: '' }
  void nextTick(() => document.getElementById(from ? 'note-body' : 'note-title')?.focus())
}
async function keep(): Promise<void> {
  const note = chosen.value!
  flaws.value = []
  try {
    await api(`/api/team/notes/${note.id}`, {
      method: 'PUT',
      body: { title: note.title, body: note.body, source: note.source, ...(note.changedAt && { was: note.changedAt }) },
    })
    if (answers.value.length) await settle(answers.value, true)
    chosen.value = null
    await refresh()
    say.done(`“${note.title}” is kept.`)
  } catch (error) {
    flaws.value = (error as ApiError).flaws ?? []
    if (!flaws.value.length) say.failed(error)
  }
}
async function remove(note: NoteView): Promise<void> {
  try {
    await api(`/api/team/notes/${note.id}`, { method: 'DELETE' })
    if (chosen.value?.id === note.id) chosen.value = null
    await refresh()
    say.done(`“${note.title}” is out.`, async () => {
      await api(`/api/team/notes/${note.id}`, { method: 'PUT', body: { title: note.title, body: note.body, source: note.source } })
      await refresh()
    })
  } catch (error) {
    say.failed(error)
  }
}
const settle = (ids: string[], done: boolean) => api('/api/team/notes/unanswered', { method: 'PUT', body: { ids, done } })
async function leave(ids: string[]): Promise<void> {
  try {
    await settle(ids, true)
    await refresh()
    say.done(ids.length > 1 ? 'These questions are put away.' : 'The question is put away.', async () => {
      await settle(ids, false)
      await refresh()
    })
  } catch (error) {
    say.failed(error)
  }
}

/** Markdown files and pages of the site. What was brought in from there before, under the same title, is brought up to date. */
async function bringInFiles(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const files = [...(input.files ?? [])]
  input.value = ''
  const read = await Promise.all(
    files.map(async f => notesIn(await f.text(), f.name.replace(/\.\w+$/, '')).map(n => ({ ...n, source: f.name }))),
  )
  await keepAll(read.flat())
}
const address = ref('')
const asksPage = ref(false)
const pageFlaw = ref('')
const fetching = ref(false)
async function bringInPage(): Promise<void> {
  const source = address.value.trim().slice(0, 300)
  pageFlaw.value = ''
  fetching.value = true
  try {
    const { notes } = await api<{ notes: NoteText[] }>('/api/team/notes/page', { method: 'POST', body: { address: address.value.trim() } })
    await keepAll(notes.map(n => ({ ...n, source })))
    asksPage.value = false
    address.value = ''
  } catch (error) {
    pageFlaw.value = (error as Error).message
  }
  fetching.value = false
}
async function keepAll(notes: (NoteText & { source: string })[]): Promise<void> {
  let kept = 0
  const wrong: string[] = []
  for (const { title, body, source } of notes) {
    const before = data.value?.notes.find(n => n.source === source && n.title.toLowerCase() === title.toLowerCase())
    if (before?.body === body) continue
    try {
      await api(`/api/team/notes/${before?.id ?? crypto.randomUUID()}`, {
        method: 'PUT',
        body: { title, body, source, ...(before && { was: before.changedAt }) },
      })
      kept++
    } catch (error) {
      wrong.push(`“${title}”: ${(error as Error).message}`)
    }
  }
  await refresh()
  if (kept) say.done(`${count(kept, 'note is', 'notes are')} brought in.`)
  else if (!wrong.length) say.done('Nothing is new: all of it stands here already.')
  if (wrong.length) say.failed(new Error(`${count(wrong.length, 'note', 'notes')} could not be brought in. ${wrong.slice(0, 3).join(' ')}`))
}

const asked = ref('')
const triedIn = computed(() => (data.value ? LANGUAGES[data.value.language] : ''))
const tried = ref<{ found: FoundNote[]; verdict: Verdict } | null>(null)
const VERDICTS: Record<Verdict, string> = {
  answered: 'It is answered with the first.',
  again: 'It is asked which was meant.',
  nothing: 'No note answers it: a person is asked.',
}
const inVerdict = (verdict: Verdict) => VERDICTS[verdict]
async function tryIt(): Promise<void> {
  if (!asked.value.trim()) return void (tried.value = null)
  try {
    tried.value = await api('/api/team/notes/try', { method: 'POST', body: { text: asked.value } })
  } catch (error) {
    say.failed(error)
  }
}
watch(data, () => tried.value && void tryIt())
async function keepQuestion(note: string | null): Promise<void> {
  try {
    await api(`/api/team/notes/questions/${crypto.randomUUID()}`, { method: 'PUT', body: { text: asked.value, note } })
    say.done('Kept as a question to try the notes on.')
    asked.value = ''
    tried.value = null
    await refresh()
  } catch (error) {
    say.failed(error)
  }
}
async function removeQuestion(id: string): Promise<void> {
  try {
    await api(`/api/team/notes/questions/${id}`, { method: 'DELETE' })
    await refresh()
  } catch (error) {
    say.failed(error)
  }
}
async function set(change: Partial<NotesView['setting']>): Promise<void> {
  const setting = { ...data.value!.setting, ...change }
  if (setting.asksFrom > setting.answersFrom) setting.asksFrom = setting.answersFrom
  try {
    await api('/api/team/notes/setting', { method: 'PUT', body: setting })
    await refresh()
  } catch (error) {
    say.failed(error)
  }
}
const inWords = (r: HitRate) =>
  r.withAnswer + r.without === 0
    ? 'none yet'
    : `${r.answered} of ${r.withAnswer} answered rightly${r.offered ? `, ${r.offered} more offered` : ''}; ${r.leftAlone} of ${r.without} without an answer left alone; ${r.wrong} wrong`
const titleOf = (id: string | null) =>
  id === null ? 'none answers it' : (data.value?.notes.find(n => n.id === id)?.title ?? 'a note that is gone')
</script>

<template>
  <div class="page">
    <StageViews :views="CAPTURE_VIEWS" called="Capture" />
    <div class="head">
      <h1>Notes</h1>
      <span v-if="data" class="faded">{{ count(data.notes.length, 'note', 'notes') }} that chats answer from</span>
      <InputText v-model="search" placeholder="Find a note" aria-label="Find a note" class="find" />
      <template v-if="mayEdit">
        <label class="bring">
          <input type="file" class="unseen" accept=".md,.markdown,.txt,text/markdown,text/plain" multiple @change="bringInFiles">Bring
          Markdown files in</label>
        <Button label="Bring a page in" variant="text" @click="asksPage = true" />
        <Button label="New note" @click="open(null)" />
      </template>
    </div>
    <p v-if="problem" class="problem" role="alert">{{ problem.message }}</p>
    <Dialog v-model:visible="asksPage" modal header="Bring a page of your site in" :style="{ width: 'min(520px, 94vw)' }">
      <form class="from-page" @submit.prevent="bringInPage">
        <label for="page-address">Its address</label>
        <InputText
          id="page-address"
          v-model="address"
          type="url"
          maxlength="2000"
          placeholder="https://firm.example/questions"
          :invalid="Boolean(pageFlaw)"
          fluid
        />
        <p v-if="pageFlaw" class="small flaw" role="alert">{{ pageFlaw }}</p>
        <p class="small faded">Each heading becomes a note. Bring it in again when the page has changed: notes from there are brought up to
          date.</p>
        <Button type="submit" label="Bring it in" :loading="fetching" :disabled="!address.trim()" />
      </form>
    </Dialog>
    <form v-if="chosen" class="sheet note" aria-label="Note" @submit.prevent="keep">
      <label for="note-title">Title; answers name it</label>
      <InputText id="note-title" v-model="chosen.title" maxlength="120" :invalid="Boolean(flaw('title'))" fluid />
      <p v-if="flaw('title')" class="small flaw">{{ flaw('title') }}</p>
      <label for="note-body">What is said</label>
      <Textarea id="note-body" v-model="chosen.body" rows="5" auto-resize maxlength="4000" :invalid="Boolean(flaw('body'))" fluid />
      <p v-if="flaw('body')" class="small flaw">{{ flaw('body') }}</p>
      <p v-if="answers.length" class="small faded">It answers {{ count(answers.length, 'question that was', 'questions that were') }} left
        open.</p>
      <div class="acts"><Button type="submit" label="Keep it" /><Button label="Never mind" variant="text" @click="chosen = null" /></div>
    </form>
    <div class="columns">
      <section aria-label="Notes">
        <p v-if="data && !data.notes.length" class="sheet empty">Nothing to answer from yet. Write what people ask again and again, one
          thing a note; the chat answers with it, in your words.</p>
        <ul class="notes">
          <li v-for="n in shown" :key="n.id" class="sheet">
            <h2>{{ n.title }}</h2>
            <p>{{ n.body }}</p>
            <p class="small faded foot">
              {{ n.source ? `From ${n.source}, ` : '' }}{{ ago(n.changedAt) }}<span v-if="mayEdit">
                <Button label="Change" size="small" variant="text" :aria-label="`Change ${n.title}`" @click="open(n)" />
                <Button
                  label="Take it out"
                  size="small"
                  variant="text"
                  severity="secondary"
                  :aria-label="`Take ${n.title} out`"
                  @click="remove(n)"
                />
              </span>
            </p>
          </li>
        </ul>
      </section>
      <div>
        <section class="sheet side" aria-label="Left open">
          <h2>What could not be answered</h2>
          <p v-if="data && !data.unanswered.length" class="faded small">Nothing is left open.</p>
          <ul class="open">
            <li v-for="group in data?.unanswered ?? []" :key="group[0]!.id">
              <p>
                <b>{{ group[0]!.text }}</b>
                <span v-if="group.length > 1" class="faded small"> and {{ count(group.length - 1, 'more like it', 'more like it') }}</span>
              </p>
              <p v-if="group.length > 1" class="small faded">{{ group.slice(1, 3).map(g => g.text).join(' · ') }}</p>
              <p class="small acts">
                <NuxtLink v-if="group[0]!.conversation" :to="{ path: '/follow-up/conversations', query: { of: group[0]!.conversation } }">
                  {{ ago(group[0]!.at) }}
                </NuxtLink>
                <span v-else class="faded">{{ ago(group[0]!.at) }}</span>
                <template v-if="mayEdit">
                  <Button
                    label="Make a note of it"
                    size="small"
                    variant="outlined"
                    @click="open(null, { text: group[0]!.text, ids: group.map(g => g.id) })"
                  />
                  <Button label="Put it away" size="small" variant="text" severity="secondary" @click="leave(group.map(g => g.id))" />
                </template>
              </p>
            </li>
          </ul>
        </section>
        <section class="sheet side" aria-label="Try a question">
          <h2>Try a question</h2>
          <form class="try" @submit.prevent="tryIt">
            <InputText v-model="asked" aria-label="Question to try" placeholder="As a visitor would ask" maxlength="2000" fluid />
            <Button type="submit" label="Try" variant="outlined" />
          </form>
          <div v-if="tried" role="status">
            <p>{{ inVerdict(tried.verdict) }}</p>
            <ol class="found">
              <li v-for="f in tried.found" :key="f.id">
                <span class="figures">{{ percent(f.score) }}</span> {{ f.title }}
                <Button v-if="mayEdit" label="This is right" size="small" variant="text" @click="keepQuestion(f.id)" />
              </li>
            </ol>
            <Button v-if="mayEdit" label="None is right" size="small" variant="text" @click="keepQuestion(null)" />
          </div>
        </section>
        <section v-if="data" class="sheet side" aria-label="When it answers">
          <h2>When it answers</h2>
          <div class="from">
            <label for="answers-from">Answers from</label>
            <InputNumber
              :model-value="Math.round(data.setting.answersFrom * 100)"
              input-id="answers-from"
              :min="5"
              :max="100"
              suffix=" %"
              :disabled="!mayEdit"
              @update:model-value="set({ answersFrom: ($event ?? 55) / 100 })"
            />
          </div>
          <div class="from">
            <label for="asks-from">Asks “Did you mean …?” from</label>
            <InputNumber
              :model-value="Math.round(data.setting.asksFrom * 100)"
              input-id="asks-from"
              :min="5"
              :max="100"
              suffix=" %"
              :disabled="!mayEdit"
              @update:model-value="set({ asksFrom: ($event ?? 30) / 100 })"
            />
          </div>
          <p class="small faded">The part of what was asked that a note covers, rare words weighing more. Below the second a person is
            asked. A chat compares words by the language of its conversation; here they are tried in {{ triedIn }}.</p>
          <dl class="rates">
            <dt>On questions that were kept out</dt><dd>{{ inWords(data.rate.keptOut) }}.</dd>
            <dt>On questions it may be chosen by</dt><dd>{{ inWords(data.rate.chosen) }}.</dd>
          </dl>
          <p v-if="data.best.answersFrom !== data.setting.answersFrom || data.best.asksFrom !== data.setting.asksFrom" class="small">On the
            latter {{ percent(data.best.answersFrom) }} and {{ percent(data.best.asksFrom) }} would do best.
            <Button v-if="mayEdit" label="Take it" size="small" variant="text" @click="set(data.best)" />
          </p>
          <details v-if="data.questions.length">
            <summary>{{ count(data.questions.length, 'question', 'questions') }} to try on</summary>
            <ul class="questions">
              <li v-for="q in data.questions" :key="q.id" class="small">{{ q.text }}
                <span class="faded">{{ titleOf(q.note) }}{{ q.keptOut ? ', kept out' : '' }}</span> <Button
                  v-if="mayEdit"
                  label="Remove"
                  :aria-label="`Remove the question ${q.text}`"
                  size="small"
                  variant="text"
                  severity="secondary"
                  @click="removeQuestion(q.id)"
                /></li>
            </ul>
          </details>
        </section>
      </div>
    </div>
  </div>
</template>

<style scoped>
.page { max-width: 1240px; margin: 0 auto; }
.head { display: flex; flex-wrap: wrap; gap: 8px 14px; align-items: center; margin-bottom: 12px; } .find { margin-left: auto; width: 200px; }
.bring { color: var(--spruce); text-decoration: underline; cursor: pointer; } .bring:focus-within { outline: 3px solid var(--spruce); }
.columns { display: grid; grid-template-columns: minmax(0, 3fr) minmax(320px, 2fr); gap: 22px; align-items: start; }
.notes { display: grid; gap: 10px; list-style: none; margin: 0; padding: 0; } .notes li { padding: 10px 16px; }
h2 { font-size: 16px; line-height: 22px; } .notes p { margin: 2px 0 0; white-space: pre-line; overflow-wrap: anywhere; }
.foot { display: flex; justify-content: space-between; align-items: center; }
.side { padding: 12px 16px; margin-bottom: 14px; }
.open, .questions { list-style: none; margin: 6px 0 0; padding: 0; } .open li { padding: 8px 0; border-top: 1px solid var(--rule); } .open p { margin: 0; overflow-wrap: anywhere; }
.acts { display: flex; flex-wrap: wrap; gap: 8px; align-items: center; margin-top: 4px; }
.try, .from { display: flex; gap: 8px; align-items: center; margin: 6px 0; } .from { justify-content: space-between; } .from :deep(input) { width: 84px; }
.found { margin: 4px 0; padding-inline-start: 20px; } .rates dt { font-size: 13px; color: var(--faded); margin-top: 6px; } .rates dd { margin: 0; }
.from-page { display: grid; gap: 6px; justify-items: start; }
.note { display: grid; gap: 6px; padding: 14px 18px; margin-bottom: 14px; } .note label { font-size: 13px; color: var(--faded); } .flaw { color: var(--brick); margin: 0; }
.empty { padding: 14px 18px; }
@media (max-width: 900px) { .columns { grid-template-columns: minmax(0, 1fr); } }
</style>

<script setup lang="ts">
import { placesOfPersonal, subjectTo, writtenTo } from '#core/mails/personal'

/** Texts that the team begins mails with: what is known of a person stands in as a placeholder, and is seen beside as somebody would read it. */
useHead({ title: 'Ready texts – Cavlin' })
interface ReadyText {
  id: string
  name: string
  subject: string
  body: string
  changedAt: string | null
}
const house = useHouse()
const session = useSession()
const say = useToasts()
const { data, problem, refresh } = useLiveQuery(() => api<{ texts: ReadyText[] }>('/api/team/ready-texts'), {}, 0)
const mayWork = computed(() => session.may('work leads'))
const places = computed(() => placesOfPersonal(house.words!.properties.filter(p => !p.retired && !['file', 'email'].includes(p.kind))))
const chosen = ref<ReadyText | null>(null)
const isNew = ref(false)
const busy = ref(false)
const flaws = ref<{ field: string; message: string }[]>([])
const flaw = (field: string) => flaws.value.find(f => f.field === field)?.message
function open(text: ReadyText | null): void {
  flaws.value = []
  isNew.value = text === null
  chosen.value = text ? { ...text } : { id: crypto.randomUUID(), name: '', subject: '', body: '', changedAt: null }
}
async function put(text: ReadyText): Promise<void> {
  const { id, changedAt, ...body } = text
  await api(`/api/team/ready-texts/${id}`, { method: 'PUT', body: { ...body, ...(changedAt && { was: changedAt }) } })
  await refresh()
}
async function keep(): Promise<void> {
  busy.value = true
  flaws.value = []
  try {
    await put(chosen.value!)
    say.done(`“${chosen.value!.name}” is kept.`)
    chosen.value = null
  } catch (error) {
    flaws.value = (error as ApiError).flaws ?? []
    if (!flaws.value.length) say.failed(error)
  } finally {
    busy.value = false
  }
}
async function remove(text: ReadyText): Promise<void> {
  try {
    await api(`/api/team/ready-texts/${text.id}`, { method: 'DELETE' })
    if (chosen.value?.id === text.id) chosen.value = null
    await refresh()
    say.done(`“${text.name}” is removed.`, () => put({ ...text, changedAt: null }))
  } catch (error) {
    say.failed(error)
  }
}
/** Somebody made up, as whom it is read. */
const SOMEBODY = { firstName: 'Ines', lastName: 'Corvane', name: 'Ines Corvane', company: 'Corvane School' }
const us = computed(() => ({ me: session.me!.name, house: house.words!.house.name }))
const known = computed(() => Object.fromEntries(house.words!.properties.map(p => [p.key, p.choices?.[0]?.text ?? p.label])))
const read = computed(() => {
  if (!chosen.value) return null
  try {
    return {
      subject: subjectTo(chosen.value.subject, SOMEBODY, us.value, known.value),
      text: writtenTo(chosen.value.body, SOMEBODY, us.value, known.value),
    }
  } catch {
    return null
  }
})
</script>

<template>
  <div>
    <StageViews :views="FOLLOW_UP_VIEWS" called="Follow up" />
    <div class="head"><h1>Ready texts</h1><Button v-if="mayWork" label="Write a new one" size="small" @click="open(null)" /></div>
    <p class="faded lead-in">The team begins mails to one person with them. A greeting and who writes are put around by themselves.</p>
    <p v-if="problem && !data" role="alert" class="brick">{{ problem.message }}</p>
    <div class="two">
      <ul v-if="data?.texts.length" class="texts" aria-label="Ready texts">
        <li v-for="t in data.texts" :key="t.id" :class="{ chosen: t.id === chosen?.id }">
          <button type="button" :aria-current="t.id === chosen?.id ? 'true' : undefined" :disabled="!mayWork" @click="open(t)">
            <b>{{ t.name }}</b>
            <span class="faded">{{ t.subject }}</span>
          </button>
          <Button
            v-if="mayWork"
            label="Remove"
            size="small"
            variant="text"
            severity="secondary"
            :aria-label="`Remove ${t.name}`"
            @click="remove(t)"
          />
        </li>
      </ul>
      <p v-else-if="data" class="faded">There is none yet. Write down what you send again and again.</p>
      <form v-if="chosen" class="sheet edit" :aria-label="isNew ? 'A new text' : `Change ${chosen.name}`" @submit.prevent="keep">
        <label for="ready-name">Name</label>
        <InputText id="ready-name" v-model="chosen.name" maxlength="60" fluid :invalid="Boolean(flaw('name'))" autofocus />
        <p v-if="flaw('name')" class="brick small" role="alert">{{ flaw('name') }}</p>
        <span class="label">About</span>
        <TemplateField
          id="ready-subject"
          :key="`${chosen.id} s`"
          v-model="chosen.subject"
          kind="line"
          called="About"
          :places="places"
          :most="200"
        />
        <p v-if="flaw('subject')" class="brick small" role="alert">{{ flaw('subject') }}</p>
        <span class="label">Text</span>
        <TemplateField
          id="ready-body"
          :key="`${chosen.id} b`"
          v-model="chosen.body"
          kind="plain"
          called="Text"
          :places="places"
          :most="20000"
        />
        <p v-if="flaw('body')" class="brick small" role="alert">{{ flaw('body') }}</p>
        <p class="ways">
          <Button type="submit" label="Keep it" :loading="busy" />
          <Button type="button" label="Leave it" variant="text" severity="secondary" @click="chosen = null" />
        </p>
        <section v-if="read" class="read" aria-label="As somebody reads it">
          <p class="faded small">As Ines Corvane would read it</p>
          <p><b>{{ read.subject }}</b></p>
          <p class="body">{{ read.text }}</p>
        </section>
      </form>
    </div>
  </div>
</template>

<style scoped>
.head { display: flex; gap: 16px; align-items: baseline; } .lead-in { margin: 4px 0 14px; }
.two { display: grid; grid-template-columns: minmax(260px, 2fr) minmax(0, 3fr); gap: 24px; align-items: start; }
.texts { list-style: none; margin: 0; padding: 0; } .texts li { display: flex; align-items: center; border-top: 1px solid var(--rule); } .texts .chosen { background: var(--wash); }
.texts li > button:first-child { all: unset; flex: 1; min-width: 0; display: grid; padding: 8px 10px; cursor: pointer; overflow-wrap: anywhere; } .texts li > button:first-child:focus-visible { outline: 2px solid var(--spruce); outline-offset: -2px; }
.edit { display: grid; gap: 6px; padding: 16px 20px; } .ways { display: flex; gap: 8px; margin-top: 6px; }
.label, label { color: var(--faded); font-size: 13px; line-height: 18px; margin-top: 6px; }
.read { border-top: 1px solid var(--rule); padding-top: 10px; overflow-wrap: anywhere; } .body { white-space: pre-wrap; margin-top: 6px; }
@media (max-width: 900px) { .two { grid-template-columns: minmax(0, 1fr); } }
</style>

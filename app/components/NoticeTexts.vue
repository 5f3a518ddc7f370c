<script setup lang="ts">
import { TOLD, TOLD_WORDS, type Told } from '#core/telling/telling'
import { PLACES_OF_NOTICES, worded, type NoticeTexts } from '#core/telling/worded'
import type { LeadView } from '#core/team'

/** In which words members are told things: for who manages. Seen beside with a real lead. */
const props = defineProps<{ texts: NoticeTexts }>()
const emit = defineEmits<{ kept: [] }>()
const house = useHouse()
const session = useSession()
const say = useToasts()
const topic = ref<Told>('given')
const subject = ref('')
const text = ref('')
const flaw = ref('')
const busy = ref(false)
const USUAL = { subject: '{{usual.subject}}', text: '{{usual.text}}' }
watch(
  [topic, () => props.texts],
  () => {
    const own = props.texts[topic.value] ?? USUAL
    subject.value = own.subject
    text.value = own.text
    flaw.value = ''
  },
  { immediate: true },
)
const isUsual = computed(() => subject.value === USUAL.subject && text.value === USUAL.text)
const isKept = computed(
  () =>
    subject.value === (props.texts[topic.value]?.subject ?? USUAL.subject) && text.value === (props.texts[topic.value]?.text ?? USUAL.text),
)
const TOPICS = TOLD.map(value => ({ value, name: TOLD_WORDS[value] }))
/** Leads of late, to read it with. */
const leads = ref<LeadView[]>([])
const lead = ref<LeadView | null>(null)
onMounted(async () => {
  leads.value = (
    await api<{ leads: LeadView[] }>('/api/team/leads', { query: { size: 8, waiting: 'true' } }).catch(() => ({ leads: [] }))
  ).leads
  lead.value = leads.value[0] ?? null
})
/** What is usually said, of somebody. */
const SAID: Record<Told, (name: string) => { subject: string; text: string }> = {
  given: name => ({ subject: `${name}: Ask for a site visit`, text: `${name} is new through “Ask for a site visit”.` }),
  waits: name => ({ subject: `${name} waits for an answer`, text: 'Four fifths of the promised time are over.' }),
  reminder: name => ({ subject: `Call again: ${name}`, text: 'Due now.' }),
  answer: name => ({ subject: `${name} answered: Your growing room`, text: 'Tuesday after four suits me.' }),
  mention: name => ({ subject: `${session.me!.name} mentions you: ${name}`, text: 'Will you look at the roof?' }),
  team: name => ({ subject: `Nobody answers ${name}`, text: 'The promised time is over.' }),
}
const read = computed(() => {
  if (!lead.value) return null
  const { name, firstName, company, label, status, owner, answerBy } = lead.value
  return worded({ [topic.value]: { subject: subject.value, text: text.value } }, topic.value, {
    ...SAID[topic.value](name),
    deadline: answerBy ? due(answerBy) : '',
    owner: owner?.name ?? 'Nobody',
    member: session.me!.name,
    lead: { name, first_name: firstName ?? '', company: company ?? '', label: house.labelName(label), status: house.statusName(status) },
  })
})
async function put(texts: NoticeTexts): Promise<void> {
  await api('/api/team/telling/texts', { method: 'PUT', body: texts })
  emit('kept')
}
async function keep(): Promise<void> {
  flaw.value = ''
  busy.value = true
  const before = props.texts
  const { [topic.value]: _, ...others } = before
  try {
    await put(isUsual.value ? others : { ...others, [topic.value]: { subject: subject.value, text: text.value } })
    say.done('Kept.', () => put(before))
  } catch (error) {
    flaw.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
function usual(): void {
  subject.value = USUAL.subject
  text.value = USUAL.text
}
</script>

<template>
  <section class="sheet words" aria-labelledby="words-title">
    <h2 id="words-title">In which words</h2>
    <p class="faded">What the firm’s members read in the bell and in mails. Answers, the deadline and the links come with it by
      themselves.</p>
    <label for="words-topic">When</label>
    <Select v-model="topic" input-id="words-topic" :options="TOPICS" option-label="name" option-value="value" />
    <div class="two">
      <form @submit.prevent="keep">
        <span class="label">About</span>
        <TemplateField
          id="words-subject"
          :key="`${topic} s`"
          v-model="subject"
          kind="line"
          called="About"
          :places="PLACES_OF_NOTICES"
          :most="200"
        />
        <span class="label">Text</span>
        <TemplateField
          id="words-text"
          :key="`${topic} t`"
          v-model="text"
          kind="plain"
          called="Text"
          :places="PLACES_OF_NOTICES"
          :most="4000"
        />
        <p v-if="flaw" role="alert" class="brick small">{{ flaw }}</p>
        <p class="ways">
          <Button type="submit" label="Keep it" :disabled="isKept" :loading="busy" />
          <Button v-if="!isUsual" type="button" label="As usual" variant="text" severity="secondary" @click="usual" />
        </p>
      </form>
      <section v-if="lead && read" aria-label="As somebody reads it" class="read">
        <Select v-model="lead" :options="leads" option-label="name" size="small" aria-label="Read it with" />
        <p><b>{{ read.subject }}</b></p>
        <p class="body">{{ read.text }}</p>
      </section>
    </div>
  </section>
</template>

<style scoped>
.words { max-width: 900px; padding: 16px 20px; margin-top: 24px; display: grid; gap: 8px; justify-items: start; }
.two { display: grid; grid-template-columns: minmax(0, 3fr) minmax(0, 2fr); gap: 24px; width: 100%; } form { display: grid; gap: 6px; }
.label, label { color: var(--faded); font-size: 13px; line-height: 18px; } .ways { display: flex; gap: 8px; }
.read { display: grid; gap: 8px; align-content: start; justify-items: start; overflow-wrap: anywhere; } .body { white-space: pre-wrap; }
@media (max-width: 800px) { .two { grid-template-columns: minmax(0, 1fr); } }
</style>

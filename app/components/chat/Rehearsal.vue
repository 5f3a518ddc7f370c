<script setup lang="ts">
import { fileAnswer } from '#core/chat/file-answer'
import { filled } from '#core/chat/lines'
import { BEGINNING, goOn, type Deed, type Heard, type Place, type Turn } from '#core/chat/run'
import { sayIn } from '#core/languages/say'
import { readAnswers } from '#core/points/answers'
import { answerText, choicesOf, type Answer, type PointDefinition } from '#core/points/definition'
import { PLAIN_READING } from '#core/points/values'

/** Talks to the working copy as a visitor whom nobody knows. Nothing of it is kept, and nobody is told. */
const props = defineProps<{ definition: PointDefinition }>()
const emit = defineEmits<{ way: [steps: string[]] }>()
const house = useHouse()
interface Said {
  by: 'flow' | 'visitor' | 'house'
  text: string
}
const said = ref<Said[]>([])
const place = shallowRef<Place>(BEGINNING)
const choices = ref<{ text: string; press: () => void }[]>([])
const text = ref('')
/** Whether somebody of us is there, in this rehearsal. */
const there = ref(true)
const log = ref<HTMLElement>()
const chat = computed(() => props.definition.chat!)
const own = computed(() => sayIn(props.definition.language))
const questionOf = (key: string) => props.definition.questions.find(q => q.key === key)
const inWords = (key: string, answer: Answer) => {
  const q = questionOf(key)
  return q ? answerText(q, answer, props.definition.language) : String(answer)
}

const around = computed(() => ({
  attributes: () => undefined,
  known: () => undefined,
  read: (question: string, typed: Answer) => {
    const q = questionOf(question)
    if (!q) return { value: typed }
    const reading = { ...PLAIN_READING, country: house.words!.house.country, say: own.value }
    if (q.kind === 'file') return fileAnswer(q, typed, reading)
    const found =
      choicesOf(q, props.definition.language).find(c => c.value === typed || c.text.toLowerCase() === String(typed).toLowerCase())?.value ??
      typed
    const { answers, flaws } = readAnswers(
      [{ ...q, shownIf: null, hidden: null }],
      { [question]: q.kind === 'some_of' ? [found].flat() : found },
      reading,
    )
    return flaws[0] ? { flaw: flaws[0].message } : { value: answers[question] ?? '' }
  },
}))
const known = (name: string): string | null => {
  const property = name.replace(/^lead\./, '')
  const key = name.startsWith('answer.') ? name.slice(7) : props.definition.questions.find(q => q.property === property)?.key
  return key && Object.hasOwn(place.value.answers, key) ? inWords(key, place.value.answers[key]!) : null
}
function hear(heard: Heard | null): void {
  choices.value = []
  for (let next: Heard | null | undefined = heard; next !== undefined;) {
    const turn: Turn = goOn(chat.value.flow, place.value, next, around.value)
    place.value = turn.place
    for (const line of turn.lines) speak(line)
    next = undefined
    for (const deed of turn.deeds) next = outside(deed) ?? next
  }
  emit('way', place.value.way)
  void nextTick(() => {
    if (log.value) log.value.scrollTop = log.value.scrollHeight
  })
}
const put = (by: Said['by'], words: string) => {
  if (words) said.value = [...said.value, { by, text: words }]
}
const press = (words: string, heard: Heard) => ({
  text: words,
  press: () => {
    put('visitor', words)
    hear(heard)
  },
})
function speak(line: Turn['lines'][number]): void {
  if (line.kind === 'choices') return void (choices.value = line.choices.map((c, n) => press(c, { kind: 'choice', n })))
  if (line.kind === 'text' || line.kind === 'flaw') return put('flow', filled(line.text, known))
  if (line.kind === 'read_back') {
    put('flow', own.value('chatRight', { answer: inWords(line.question, line.answer) }))
    choices.value = [press(own.value('yes'), { kind: 'right', yes: true }), press(own.value('chatWrong'), { kind: 'right', yes: false })]
    return
  }
  const q = questionOf(line.question)
  put('flow', filled(line.text, known) || q?.label || line.question)
  if (!q) return
  const files =
    q.kind === 'file'
      ? [
          press('A file of theirs', {
            kind: 'answer',
            value: Array.from({ length: Math.max(1, Number(q.limits.least ?? 1)) }, (_, i) => `file-${i + 1}.pdf`),
          }),
        ]
      : []
  choices.value = [
    ...files,
    ...choicesOf(q, props.definition.language)
      .slice(0, 12)
      .map(c => press(c.text, { kind: 'answer', value: c.value })),
    ...(q.required ? [] : [press(own.value('chatSkip'), { kind: 'answer', value: '' })]),
  ]
}
/** What would be done outside is said instead. */
function outside(deed: Deed): Heard | undefined {
  switch (deed.kind) {
    case 'do':
      return put(
        'house',
        [deed.actions.length ? `Done: ${deed.actions.join(', ')}.` : '', deed.entry ? 'The answers would be taken in as an entry.' : '']
          .filter(Boolean)
          .join(' '),
      ) as undefined
    case 'look_up':
      put('house', `The notes would be searched for “${deed.words}”.`)
      choices.value = [
        { text: 'A note answers it', press: () => hear({ kind: 'found', what: 'answered' }) },
        { text: 'No note answers it', press: () => hear({ kind: 'found', what: 'nothing' }) },
      ]
      return undefined
    case 'times':
      choices.value = [
        press('A time that suits', { kind: 'time', taken: true }),
        press(own.value('chatNone'), { kind: 'time', taken: false }),
      ]
      return undefined
    case 'hand_over':
      put('house', there.value ? 'One of us would be told at once, and take over.' : chat.value.away || 'Nobody is there.')
      return { kind: 'person', there: there.value }
    case 'end':
      return put('house', deed.rating ? 'It is over; the visitor would be asked how it was.' : 'It is over.') as undefined
  }
}
function begin(): void {
  said.value = []
  place.value = BEGINNING
  hear(null)
}
function send(): void {
  const words = text.value.trim()
  if (!words) return
  text.value = ''
  put('visitor', words)
  if (place.value.at === null) return put('house', 'Here one of us would read it.')
  if (place.value.waits === 'time') return hear({ kind: 'time', taken: false })
  if (place.value.waits === 'found') hear({ kind: 'found', what: 'again' })
  hear({ kind: 'text', text: words })
}
watch(() => JSON.stringify([chat.value.flow, props.definition.questions]), begin)
onMounted(begin)
</script>

<template>
  <section class="rehearsal" aria-label="Rehearsal">
    <div class="head">
      <label class="tick small"><Checkbox v-model="there" binary input-id="rehearsal-there" /> One of us is there</label>
      <Button label="Begin anew" size="small" variant="text" @click="begin" />
    </div>
    <div ref="log" class="log" role="log" aria-label="What is said" tabindex="0">
      <p v-for="(line, i) in said" :key="i" :class="line.by" dir="auto">{{ line.text }}</p>
    </div>
    <div v-if="choices.length" class="choices">
      <Button v-for="c in choices" :key="c.text" :label="c.text" size="small" variant="outlined" @click="c.press()" />
    </div>
    <form class="write" @submit.prevent="send">
      <InputText v-model="text" aria-label="Say something" placeholder="Say something" maxlength="2000" fluid />
      <Button type="submit" label="Say" size="small" variant="outlined" />
    </form>
  </section>
</template>

<style scoped>
.rehearsal { display: flex; flex-direction: column; height: 500px; border: 1px solid var(--rule); background: var(--sheet); }
.head { display: flex; justify-content: space-between; align-items: center; padding: 4px 12px; border-bottom: 1px solid var(--rule); }
.tick { display: flex; gap: 8px; align-items: center; }
.log { flex: 1; overflow-y: auto; padding: 10px 14px; } .log p { margin: 0 0 8px; white-space: pre-line; overflow-wrap: anywhere; }
.visitor { margin-inline-start: 24px !important; padding-inline-start: 10px; border-inline-start: 2px solid var(--spruce); }
.house { color: var(--faded); font-style: italic; }
.choices { display: flex; flex-wrap: wrap; gap: 6px; padding: 0 12px 8px; }
.write { display: flex; gap: 8px; padding: 8px 12px; border-top: 1px solid var(--rule); }
</style>

<script setup lang="ts">
import { hasInvitation } from '#core/appearing/definition'
import { LANGUAGES, type Language } from '#core/languages/language'
import { inLanguage } from '#core/points/in-language'
import { inTongue } from '#core/points/translations'
import { actionOf, mailsOf } from '#core/actions/edit'
import { checksOf, type Check, type FrameName } from '#core/points/checks'
import { pagesOf, publicPoint, type PointDefinition, type Question } from '#core/points/definition'
import { effortOf } from '#core/points/effort'
import { same } from '#core/points/merge'
import { addQuestion, behindWhich, moveQuestion, nameQuestions, removeQuestion } from '#core/points/questions'
import { keeping } from '#core/points/variants'
import { changeResult } from '#core/quiz/edit'
import { blankInQuiz } from '#core/quiz/starters'
import { inOrder } from '#core/quiz/way'

const route = useRoute()
const router = useRouter()
const session = useSession()
const house = useHouse()
const id = String(route.params.id)
const edit = useEditing(id)
const { point, name, definition, state, problem, conflict } = edit
const company = usePresence(id)
const { data: others } = useLiveQuery(() => api<{ id: string; name: string }[]>('/api/team/points'), { points: true, drafts: true }, 2000)
useHead({ title: () => `${name.value || 'Form'} – Cavlin` })

type Hand =
  { frame: 'where' | 'invitation' } | { frame: 'questions'; part: number } | { frame: 'thanks' } | { frame: 'mails' } | { frame: 'inside' }
const hand = ref<Hand>({ frame: 'questions', part: 0 })
const chosen = ref<string | null>(null)
const panel = ref<'frame' | 'theme' | 'variants' | 'weights' | 'window'>('frame')
/** The result of a quiz that is open. */
const result = ref<string | null>(null)
const whereTab = ref<'site' | 'open'>('site')
const screens = ref<'both' | 'desktop' | 'phone'>('desktop')
const trying = ref(false)
const announce = ref('')
const mayEdit = computed(() => session.may('edit points'))

const minute = useNow(60_000)
const around = computed(() => ({
  properties: house.words!.properties,
  labels: house.words!.labels.map(l => l.key),
  topics: house.words!.topics.map(t => t.key),
  members: house.words!.members.map(m => m.id),
  lists: house.words!.lists.map(l => l.id),
  now: minute.value,
  name: name.value,
  otherNames: (others.value ?? []).filter(p => p.id !== id).map(p => p.name),
}))
const { plain, paused } = useSettled(definition)
/** Another language than its own that it is seen in just now. */
const seen = ref<Language | null>(null)
const shown = computed(() => (plain.value && seen.value ? inTongue(plain.value, seen.value) : plain.value))
const { publishing, makeLive: goLive, planGoingLive, done } = usePublishing(edit)
const checks = computed(() => (paused.value ? checksOf(paused.value, around.value) : []))
const stopsLeft = computed(() => checks.value.filter(c => c.level === 'stop').length)
const indexOf = (check: Check) => Number(/^questions\.(\d+)/.exec(check.field)?.[1] ?? -1)
const checksByQuestion = computed(() => {
  const by = new Map<number, Check[]>()
  for (const check of checks.value) by.set(indexOf(check), [...(by.get(indexOf(check)) ?? []), check])
  return by
})
const NONE: Check[] = []
const checksOfQuestion = (i: number) => checksByQuestion.value.get(i) ?? NONE
const checksOfFrame = (frame: FrameName, part?: number) =>
  checks.value.filter(c => c.frame === frame && (part === undefined || partOf(indexOf(c)) === part))
const changed = computed(() => Boolean(point.value?.live && paused.value && !same(point.value.live.definition, paused.value)))
const effort = computed(
  () =>
    paused.value &&
    effortOf(
      paused.value,
      house.words!.properties,
      point.value?.pace && point.value.live ? { ...point.value.pace, live: point.value.live.definition } : null,
    ),
)

const effortSaid = computed(() =>
  [
    effort.value?.secondsFrom === 'entries'
      ? 'The time is what people took for the live edition, scaled by what was changed.'
      : 'The time is assumed, by the kind of each question and the words to read; our own entries are too few to tell.',
    effort.value?.finishFrom === 'entries'
      ? 'The share is of those who began the live edition, scaled likewise.'
      : 'The share is assumed: each question loses some.',
  ].join(' '),
)

/** The parts as visitors see them: questions with a fixed answer stand in none. */
const parts = computed(() => {
  const asked = plain.value?.questions.filter(q => q.hidden?.from !== 'fixed') ?? []
  if (plain.value?.chat) return [asked]
  return plain.value?.quiz ? [asked.filter(q => !q.quiz?.contact), asked.filter(q => q.quiz?.contact)] : pagesOf(asked)
})
const isQuiz = computed(() => Boolean(plain.value?.quiz))
const isChat = computed(() => Boolean(plain.value?.chat))
/** The step of a chat that is in hand. */
const step = ref<string | null>(null)
/** The page of the preview: of a quiz the one with the question in hand. */
function pageOf(part: number): number {
  if (!plain.value?.quiz) return part
  const pages = pagesOf(publicPoint('preview', 0, plain.value).questions)
  const key = parts.value[part]?.find(q => q.key === chosen.value)?.key ?? parts.value[part]?.[0]?.key
  return Math.max(
    0,
    pages.findIndex(page => page.some(q => q.key === key)),
  )
}
const resultInHand = computed(
  () => plain.value?.quiz?.results.find(r => r.key === result.value)?.key ?? plain.value?.quiz?.results[0]?.key ?? null,
)
function partOf(i: number): number {
  const key = plain.value?.questions[i]?.key
  return Math.max(
    0,
    parts.value.findIndex(part => part.some(q => q.key === key)),
  )
}
/** A bar, a card or a floating button says something before it is opened. */
const invites = computed(() => Boolean(plain.value?.display.on && !plain.value.chat && hasInvitation(plain.value.display.placement)))
const frames = computed(() => [
  { key: 'where', title: 'Where it stands', hand: { frame: 'where' } as Hand, checks: checksOfFrame('where') },
  ...(invites.value
    ? [
        {
          key: 'invitation',
          title: plain.value!.display.placement === 'float' ? 'Its button' : 'Invitation',
          hand: { frame: 'invitation' } as Hand,
          checks: checksOfFrame('invitation'),
        },
      ]
    : []),
  ...inOrderAsked(
    (parts.value.length ? parts.value : [[]]).map((_, part) => ({
      key: `questions-${part}`,
      title: isChat.value
        ? 'Conversation'
        : isQuiz.value
          ? part
            ? 'Who it is'
            : 'Questions'
          : parts.value.length > 1
            ? `Questions, part ${part + 1}`
            : 'Questions',
      hand: { frame: 'questions', part } as Hand,
      checks: [...checksOfFrame('questions', part), ...(part ? [] : checksOfFrame('theme'))],
    })),
    { key: 'thanks', title: isQuiz.value ? 'Results' : 'Thanks', hand: { frame: 'thanks' } as Hand, checks: checksOfFrame('thanks') },
  ),
  { key: 'mails', title: 'By mail', hand: { frame: 'mails' } as Hand, checks: checksOfFrame('mails') },
  { key: 'inside', title: 'What we do', hand: { frame: 'inside' } as Hand, checks: checksOfFrame('inside') },
])
/** The way of a visitor: what comes of it stands last, or before the questions who it is. */
function inOrderAsked<F>(questions: F[], thanks: F): F[] {
  if (plain.value?.chat) return questions
  if (plain.value?.quiz?.contact !== 'after') return [...questions, thanks]
  return [...questions.slice(0, -1), thanks, ...questions.slice(-1)]
}
const keyOf = (h: Hand) => (h.frame === 'questions' ? `questions-${Math.min(h.part, Math.max(0, parts.value.length - 1))}` : h.frame)
const inHand = computed(() => frames.value.find(f => f.key === keyOf(hand.value)) ?? frames.value[1]!)
function take(next: Hand): void {
  nameKeys()
  hand.value = next
  panel.value = 'frame'
  // What the last frame was scrolled to says nothing in this one.
  scrollTo({ top: 0 })
  const frame = keyOf(next)
  if ((route.query.frame ?? 'questions-0') !== frame) void router.push({ query: { ...route.query, frame } })
}
// The frame in hand stands in the address: the browser's Back leads to the one before, and a reload stays.
watch(
  [() => route.query.frame, () => frames.value.length],
  ([key]) => {
    const frame = frames.value.find(f => f.key === (key ?? 'questions-0'))
    if (frame && keyOf(hand.value) !== frame.key) hand.value = frame.hand
  },
  { immediate: true },
)
function goTo(check: Check): void {
  if (check.frame === 'theme') return void (panel.value = 'theme')
  if (check.field.startsWith('variants')) {
    take({ frame: 'questions', part: 0 })
    return void (panel.value = 'variants')
  }
  const i = indexOf(check)
  const at = /^chat\.flow\.steps\.(\d+)/.exec(check.field)?.[1]
  if (at) step.value = definition.value!.chat!.flow.steps[Number(at)]?.key ?? null
  if (check.frame === 'where') whereTab.value = check.field.startsWith('display') ? 'site' : 'open'
  const of = /^quiz\.results\.(\d+)/.exec(check.field)?.[1]
  if (of) result.value = definition.value!.quiz!.results[Number(of)]?.key ?? null
  if (check.frame !== 'questions') return take({ frame: check.frame } as Hand)
  take({ frame: 'questions', part: i < 0 ? 0 : partOf(i) })
  if (i >= 0) chosen.value = definition.value!.questions[i]!.key
}
function mend(check: Check): void {
  edit.replace(check.mend!.apply(JSON.parse(JSON.stringify(definition.value))))
  done(`${check.mend!.name}: done.`)
}

/** An earlier edition becomes the working copy, as one step that can be undone. */
function goBack(earlier: unknown, number: number): void {
  edit.replace(earlier as PointDefinition)
  take({ frame: 'questions', part: 0 })
  done(`This is edition ${number} again. Make it live when it is right.`)
}

/** A text that was changed where a variant stands; what is not the variant's own is the point's. */
function writeVariant(key: string, path: string, text: string): void {
  const w = definition.value!.variants.find(o => o.key === key)
  if (w && (path === 'title' || path === 'intro' || path === 'button')) w[path] = text
  else write(path, text)
}
/** Keeps a variant and ends the experiment: at once, where nothing else is changed. */
async function keepVariant(key: string): Promise<void> {
  const alone = !changed.value
  edit.replace(keeping(JSON.parse(JSON.stringify(definition.value)) as PointDefinition, key))
  if (!alone) return done(`Wording ${key.toUpperCase()} is kept. Other things are changed as well: make it live when they are right.`)
  await nextTick()
  await goLive()
}

/** A text that was changed where it stands. */
function write(path: string, text: string): void {
  const d = definition.value!
  const [first, key, field, n] = path.split('.')
  if (first === 'quiz')
    return void edit.replace(
      changeResult(JSON.parse(JSON.stringify(d)) as PointDefinition, d.quiz!.results[Number(key)]!.key, { [field!]: text }),
    )
  if (first === 'display') return void (d.display = { ...d.display, [key!]: text })
  if (first !== 'questions') return void ((d as unknown as Record<string, string>)[first!] = text)
  const q = d.questions.find(o => o.key === key)
  if (!q) return
  if (field === 'choices') {
    const choice = q.choices[Number(n)]!
    if (choice.value === choice.text && !keptOf(q)?.choices.some(c => c.value === choice.value)) choice.value = text
    choice.text = text
  } else (q as unknown as Record<string, string>)[field!] = text
}
const keptOf = (q: Question) => point.value?.live?.definition.questions.find(o => o.key === q.key) ?? null

/** A change of the questions, as one step that can be undone. */
const plainly = (change: (d: PointDefinition) => PointDefinition) =>
  edit.replace(change(JSON.parse(JSON.stringify(definition.value)) as PointDefinition))
function add(kind: Question['kind'] = 'short_text'): void {
  const renamed = nameKeys()
  const last = behindWhich(parts.value[(hand.value as { part?: number }).part ?? 0] ?? [])
  plainly(d => {
    const added = addQuestion(d, kind, last && (renamed.get(last) ?? last))
    chosen.value = added.key
    const contact = (hand.value as { part?: number }).part === 1
    return d.quiz
      ? {
          ...added.definition,
          questions: added.definition.questions.map(q =>
            q.key === added.key
              ? { ...q, required: !contact, quiz: blankInQuiz({ contact, points: d.quiz!.kind === 'marks' && !contact ? 1 : 0 }) }
              : q,
          ),
        }
      : added.definition
  })
  void nextTick(() => document.getElementById(`q-${chosen.value}-label`)?.focus())
}
function move(key: string, by: number): void {
  if (!mayEdit.value) return
  const before = definition.value!.questions.findIndex(q => q.key === key)
  plainly(d => moveQuestion(d, key, by))
  const { questions } = definition.value!
  const at = questions.findIndex(q => q.key === key)
  if (at !== before) announce.value = `“${questions[at]!.label}” is now question ${at + 1} of ${questions.length}.`
}
function remove(key: string): void {
  const gone = definition.value!.questions.find(q => q.key === key)!
  plainly(d => removeQuestion(d, key))
  done(`“${gone.label || 'The question'}” is out.`)
}
/** Until an edition has it, a question's key follows its text, and what names it follows the key. */
function nameKeys(): Map<string, string> {
  const { definition: named, renamed } = nameQuestions(
    JSON.parse(JSON.stringify(definition.value)) as PointDefinition,
    new Set(point.value?.live?.definition.questions.map(q => q.key)),
  )
  if (!renamed.size) return renamed
  if (chosen.value) chosen.value = renamed.get(chosen.value) ?? chosen.value
  edit.replace(named)
  return renamed
}
function choose(key: string | null): void {
  const label = document.activeElement?.id
  nameKeys()
  chosen.value = key
  if (label) void nextTick(() => document.getElementById(label)?.focus())
}
async function makeLive(): Promise<void> {
  nameKeys()
  const isFirst = !point.value!.live
  await goLive()
  // What comes next is to put it somewhere; who tries wordings stays to see how they do.
  if (isFirst && point.value!.live && panel.value !== 'variants') take({ frame: 'where' })
}
async function plan(at: string | null): Promise<void> {
  nameKeys()
  await planGoingLive(at)
}
function setQuestion(i: number, q: Question): void {
  definition.value!.questions[i] = q
}
const insideInWords = computed(() => {
  const [label, tags] = [actionOf(definition.value!, 'label')?.label, actionOf(definition.value!, 'tag')?.tags ?? []]
  return [label ? house.labelName(label) : 'Scored', tags.map(t => `#${t}`).join(' ') || 'no tags']
})
const mailsInWords = computed(() => {
  const { confirm } = definition.value!
  const mails = mailsOf(definition.value!)
  return [
    confirm ? 'Asked to confirm' : mails.length ? count(mails.length, 'mail', 'mails') : 'Nothing',
    confirm && mails.length
      ? `then ${count(mails.length, 'mail', 'mails')}`
      : mails.map(l => (l.days ? `after ${count(l.days, 'day', 'days')}` : 'at once')).join(', '),
  ]
})
useUnsavedGuard(edit, mayEdit)
</script>

<template>
  <p v-if="state === 'missing'" role="alert">{{ problem }} <NuxtLink to="/capture/points">To the forms</NuxtLink></p>
  <div v-else-if="definition && point" class="editor">
    <StoryboardEditorHead
      v-model:name="name"
      :back="{ path: '/capture/points', name: 'Forms, quizzes and chats' }"
      :live="point.live?.number ?? null"
      :changed="changed"
      :state="state"
      :company="company"
      :may-edit="mayEdit"
      others="forms"
      :results="isChat ? `/learn/conversations?point=${id}` : `/capture/points/${id}/results`"
      :may-undo="edit.mayUndo.value"
      :may-redo="edit.mayRedo.value"
      :may-publish="!stopsLeft && (!point.live || changed)"
      :publishing="publishing"
      :problem="problem"
      :conflict="conflict"
      :going="point.goingLive" :revision="point.revision"
      @undo="edit.undo()" @redo="edit.redo()" @publish="makeLive" @plan="plan" @seen="conflict = ''"
    >
      <Button v-if="!isChat" label="Try it" variant="outlined" @click="nameKeys(); trying = true" />
    </StoryboardEditorHead>
    <p class="unseen" aria-live="polite">{{ announce }}</p>

    <div class="board">
      <StoryboardFrameStrip
        v-slot="{ frame }"
        :frames="frames"
        :in-hand="inHand.key"
        @take="take(frames.find(f => f.key === $event)!.hand)"
      >
        <span v-if="isChat && frame.startsWith('questions')" class="words">
          <b>{{ plain!.chat!.flow.steps.length }} steps</b>
          <br>{{ plain!.title }}
        </span>
        <StoryboardFormFrame
          v-else-if="frame.startsWith('questions') || frame === 'thanks'"
          :definition="plain!"
          :frame="frame === 'thanks' ? 'thanks' : 'questions'"
          :part="pageOf(Number(frame.split('-')[1] ?? 0))"
          :result="resultInHand"
          later
          inert
        />
        <span v-else-if="frame === 'mails'" class="words"><b>{{ mailsInWords[0] }}</b><br>{{ mailsInWords[1] }}</span>
        <StoryboardAppearFrame
          v-else-if="(frame === 'where' && definition.display.on && !isChat) || frame === 'invitation'"
          :definition="plain!"
          small
        />
        <span v-else-if="frame === 'where'" class="words">
          <b>{{ point.live ? 'A tag, a page' : 'Nowhere yet' }}</b>
          <br>/p/{{ point.slug }}
        </span>
        <span v-else class="words"><b>{{ insideInWords[0] }}</b><br>{{ insideInWords[1] }}</span>
      </StoryboardFrameStrip>

      <div class="hand" :class="{ broad: isChat && inHand.hand.frame === 'questions' }">
        <section class="stage" :aria-label="inHand.title">
          <template v-if="inHand.hand.frame === 'where'">
            <StoryboardPageRehearsal v-if="plain!.display.on && !isChat" :definition="plain!" :point-key="point.key" />
            <StoryboardWaysOut :point="point" :may-edit="mayEdit" @back="goBack" />
          </template>
          <template v-else-if="inHand.hand.frame === 'invitation'">
            <div class="switch"><h2>As it stands on a page</h2></div>
            <StoryboardAppearFrame :definition="plain!" :editable="mayEdit" @text="write" />
            <div class="switch opened"><h2>Once it is opened</h2></div>
            <StoryboardAppearFrame :definition="plain!" opened />
          </template>
          <template v-else>
            <div class="switch">
              <h2>
                {{ { inside: 'What the owner is told', mails: 'What they get by mail' }[inHand.hand.frame as string] ?? (isChat ? 'What it says and asks' : panel === 'weights' ? (definition.quiz?.kind === 'marks' ? 'What is right' : 'What each answer speaks for') : 'As visitors see it') }}<template v-if="seen && inHand.hand.frame !== 'inside'">
                  in {{ LANGUAGES[seen] }}
                </template>
              </h2>
              <div
                v-if="!isChat && (inHand.hand.frame === 'questions' && panel !== 'variants' && panel !== 'weights') || (!isChat && inHand.hand.frame === 'thanks')"
                role="group"
                aria-label="Screens"
              >
                <Button
                  v-for="s in (['desktop', 'phone', 'both'] as const)"
                  :key="s"
                  :label="{ desktop: 'Desktop', phone: 'Phone', both: 'Both' }[s]"
                  size="small"
                  :variant="screens === s ? 'outlined' : 'text'"
                  :aria-pressed="screens === s"
                  @click="screens = s"
                />
              </div>
            </div>
            <StoryboardMailsFrame
              v-if="inHand.hand.frame === 'mails'"
              :id="id"
              :definition="seen ? inTongue(definition, seen) : definition"
              :name="name"
              :slug="point.slug"
              :revision="point.revision"
              :may-test="mayEdit"
            />
            <StoryboardInsideFrame v-else-if="inHand.hand.frame === 'inside'" :definition="definition" :name="name" />
            <ChatFlowBoard
              v-else-if="isChat"
              :id="id"
              v-model="definition"
              :disabled="!mayEdit"
              :step="step"
              :change="plainly"
              @step="step = $event"
            />
            <template v-else-if="panel === 'weights' && isQuiz">
              <QuizWeightsTable v-model="definition" :disabled="!mayEdit" />
              <QuizBalanceBoard :id="id" :definition="plain!" @choose="panel = 'frame'; choose($event)" />
            </template>
            <StoryboardVariantsBoard
              v-else-if="panel === 'variants' && inHand.hand.frame === 'questions'"
              :definition="plain!"
              :editable="mayEdit"
              :invites="invites"
              @text="writeVariant"
            />
            <div v-else class="grounds" :class="screens">
              <div v-if="screens !== 'phone'" class="ground">
                <StoryboardFormFrame
                  :definition="shown!"
                  :frame="inHand.hand.frame"
                  :part="'part' in inHand.hand ? pageOf(inHand.hand.part) : 0"
                  :result="resultInHand"
                  :editable="mayEdit && !seen"
                  :chosen="chosen"
                  aria-label="Preview"
                  role="group"
                  @text="write"
                  @choose="choose"
                  @move="move"
                />
              </div>
              <div v-if="screens !== 'desktop'" class="ground phone">
                <StoryboardFormFrame
                  :definition="shown!"
                  :frame="inHand.hand.frame"
                  :part="'part' in inHand.hand ? pageOf(inHand.hand.part) : 0"
                  :result="resultInHand"
                  :editable="mayEdit && !seen && screens === 'phone'"
                  :chosen="chosen"
                  :aria-label="screens === 'phone' ? 'Preview' : 'Preview on a phone'"
                  role="group"
                  @text="write"
                  @choose="choose"
                  @move="move"
                />
              </div>
            </div>
          </template>
        </section>

        <section class="panel" aria-label="Settings">
          <div v-if="inHand.hand.frame !== 'where'" class="tabs" role="group" aria-label="What to set">
            <Button
              :label="inHand.hand.frame === 'questions' ? 'Questions' : 'This frame'"
              size="small"
              :variant="panel === 'frame' ? 'outlined' : 'text'"
              :aria-pressed="panel === 'frame'"
              @click="panel = 'frame'"
            />
            <Button
              v-if="inHand.hand.frame === 'questions' && definition.quiz"
              :label="definition.quiz.kind === 'outcomes' ? 'Weights' : 'Marks'"
              size="small"
              :variant="panel === 'weights' ? 'outlined' : 'text'"
              :aria-pressed="panel === 'weights'"
              @click="panel = 'weights'"
            />
            <Button
              v-if="inHand.hand.frame === 'questions' && isChat"
              label="Window"
              size="small"
              :variant="panel === 'window' ? 'outlined' : 'text'"
              :aria-pressed="panel === 'window'"
              @click="panel = 'window'"
            />
            <Button
              v-if="inHand.hand.frame === 'questions' && !isChat"
              label="Wordings"
              size="small"
              :variant="panel === 'variants' ? 'outlined' : 'text'"
              :aria-pressed="panel === 'variants'"
              @click="panel = 'variants'"
            />
            <Button
              label="Look"
              size="small"
              :variant="panel === 'theme' ? 'outlined' : 'text'"
              :aria-pressed="panel === 'theme'"
              @click="panel = 'theme'"
            />
            <span v-if="effort && !isChat" v-tooltip.bottom="effortSaid" class="effort small faded" tabindex="0">about {{ effort.seconds }}
              s; {{ percent(effort.finish) }} finish</span>
          </div>
          <StoryboardCheckList :checks="checks" :may-edit="mayEdit" @go="goTo" @mend="mend" />
          <div v-if="inHand.hand.frame === 'where'" class="tabs" role="group" aria-label="What to set">
            <Button
              label="On the site"
              size="small"
              :variant="whereTab === 'site' ? 'outlined' : 'text'"
              :aria-pressed="whereTab === 'site'"
              @click="whereTab = 'site'"
            />
            <Button
              label="Opening and guards"
              size="small"
              :variant="whereTab === 'open' ? 'outlined' : 'text'"
              :aria-pressed="whereTab === 'open'"
              @click="whereTab = 'open'"
            />
          </div>
          <StoryboardAppearSettings
            v-if="inHand.hand.frame === 'where' && whereTab === 'site'"
            v-model="definition"
            :disabled="!mayEdit"
            :point-key="point.key"
          />
          <StoryboardWhereSettings v-else-if="inHand.hand.frame === 'where'" v-model="definition" :disabled="!mayEdit" />
          <StoryboardInvitationSettings
            v-else-if="inHand.hand.frame === 'invitation' && panel === 'frame'"
            v-model="definition"
            :disabled="!mayEdit"
          />
          <ChatWindowSettings
            v-else-if="panel === 'window' && isChat && inHand.hand.frame === 'questions'"
            v-model="definition"
            :disabled="!mayEdit"
          />
          <StoryboardVariantsSettings
            v-else-if="panel === 'variants' && inHand.hand.frame === 'questions'"
            v-model="definition"
            :point="point"
            :disabled="!mayEdit"
            :invites="invites"
            @keep="keepVariant"
          />
          <template v-else-if="panel === 'theme'">
            <LanguagePick
              :model-value="definition.language"
              :disabled="!mayEdit"
              @update:model-value="definition = inLanguage(definition, $event)"
            />
            <StoryboardTranslationsSettings v-model="definition" v-model:seen="seen" :disabled="!mayEdit" />
            <StoryboardThemeSettings v-model="definition" :disabled="!mayEdit" />
          </template>
          <StoryboardInsideSettings v-else-if="inHand.hand.frame === 'inside'" v-model="definition" :disabled="!mayEdit" />
          <StoryboardMailsSettings v-else-if="inHand.hand.frame === 'mails'" v-model="definition" :disabled="!mayEdit" />
          <QuizResultSettings
            v-else-if="inHand.hand.frame === 'thanks' && definition.quiz"
            v-model="definition"
            v-model:chosen="result"
            :disabled="!mayEdit"
          />
          <QuizSettings v-else-if="panel === 'weights' && definition.quiz" v-model="definition" :disabled="!mayEdit" />
          <StoryboardThanksSettings v-else-if="inHand.hand.frame === 'thanks'" v-model="definition" :disabled="!mayEdit" />
          <StoryboardQuestionList
            v-else
            v-model="definition.questions"
            :asked="inOrder(definition.questions, definition.quiz)"
            :in-quiz="isQuiz"
            :chosen="chosen"
            :disabled="!mayEdit"
            :checks-of="checksOfQuestion"
            :kept-of="keptOf"
            @choose="choose" @move="move" @remove="remove" @add="add()" @mend="mend" @change="setQuestion"
          />
        </section>
      </div>
    </div>
    <StoryboardRehearsalDialog
      v-if="mayEdit"
      :id="id"
      :slug="point.slug"
      v-model:visible="trying"
      :definition="definition"
      :save="edit.save"
    />
  </div>
  <p v-else class="faded">Fetching …</p>
</template>

<style scoped>
.editor { max-width: 1400px; margin: 0 auto; }
.hand { position: relative; z-index: 1; background: var(--paper); display: grid; grid-template-columns: minmax(0, 1fr) minmax(380px, 460px); gap: 26px; align-items: start; padding-top: 14px; }
.hand.broad { grid-template-columns: minmax(0, 1fr); }
.broad .panel { max-width: 720px; }
.stage { min-width: 0; }
.switch { display: flex; align-items: center; gap: 8px; margin-bottom: 8px; }
.switch h2 { flex: 1; }
.grounds { display: flex; gap: 18px; align-items: flex-start; }
.ground { flex: 1; min-width: 0; padding: 24px; background: #e9e6dc; border: 1px solid var(--rule); }
.ground.phone { flex: none; width: 360px; max-width: 100%; margin-inline: auto; padding: 14px; border-radius: 14px; }
.grounds.both .ground:first-child > div { zoom: 0.68; }
.panel { min-width: 0; }
.tabs { display: flex; flex-wrap: wrap; gap: 4px; align-items: center; margin-bottom: 8px; }
.opened { margin-top: 22px; }
.effort { margin-left: auto; cursor: help; }
.checks .stop b { color: var(--brick); } .checks .hint b { color: var(--honey); }
@media (max-width: 980px) { .hand { grid-template-columns: minmax(0, 1fr); } .grounds { flex-wrap: wrap; } }
</style>

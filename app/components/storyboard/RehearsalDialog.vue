<script setup lang="ts">
import type { Flaw } from '#core/flaws'
import { publicPoint, type Answers, type PointDefinition } from '#core/points/definition'
import { formMarkup } from '#core/points/markup'
import { sampleAnswers } from '#core/points/sample'
import { pointStyle } from '#core/points/style'
import type { RehearsalView } from '#core/team'

/** A test entry to the working copy: fill it in, and see step by step what would come of it. */
const visible = defineModel<boolean>('visible', { required: true })
const props = defineProps<{ id: string; slug: string; definition: PointDefinition; save: () => Promise<void> }>()
const house = useHouse()
const say = useToasts()
const came = ref<RehearsalView | null>(null)
const working = ref(false)
const mailToo = ref(false)
const host = ref<HTMLElement>()
let root: ShadowRoot | undefined
let typed: Answers = {}

function draw(values: Answers, flaws: Flaw[] = []): void {
  if (!host.value) return
  root = host.value.shadowRoot ?? host.value.attachShadow({ mode: 'open' })
  const sheet = new CSSStyleSheet()
  sheet.replaceSync(
    `:host{display:block;font-family:system-ui,sans-serif}${pointStyle(props.definition.theme)}.cv{max-width:none}.cv-send{display:none}`,
  )
  root.adoptedStyleSheets = [sheet]
  root.innerHTML = formMarkup(publicPoint('preview', 0, props.definition), { action: '#', values, flaws })
  root.querySelector('form')!.addEventListener('submit', event => {
    event.preventDefault()
    void tryIt()
  })
}
watch(visible, async open => {
  if (!open) return
  came.value = null
  typed = sampleAnswers(props.definition)
  await nextTick()
  draw(typed)
})
function answers(): Answers {
  const data = new FormData(root!.querySelector('form')!)
  return Object.fromEntries(
    props.definition.questions.flatMap(q => {
      const given = data.getAll(q.key).filter(v => typeof v === 'string' && v !== '') as string[]
      return given.length ? [[q.key, q.kind === 'some_of' ? given : given[0]!]] : []
    }),
  )
}
async function tryIt(): Promise<void> {
  working.value = true
  typed = answers()
  try {
    await props.save()
    came.value = await api<RehearsalView>(`/api/team/points/${props.id}/rehearsal`, {
      method: 'POST',
      body: { answers: typed, mail: mailToo.value },
    })
    if (mailToo.value && came.value.mail) say.done('The mail is on its way to you.')
  } catch (error) {
    if (error instanceof ApiError && error.flaws.length) draw(typed, error.flaws)
    else say.failed(error)
  } finally {
    working.value = false
  }
}
async function sendMails(): Promise<void> {
  working.value = true
  try {
    say.done(
      `On their way to ${await sendMailTest(
        props.id,
        came.value!.mails.map(m => asMailTest(m, props.slug)),
      )}.`,
    )
  } catch (error) {
    say.failed(error)
  } finally {
    working.value = false
  }
}
async function again(): Promise<void> {
  came.value = null
  await nextTick()
  draw(typed)
}
const ASIDE: Record<string, string> = {
  origin: 'it came from a site that is not allowed',
  unknown_person: 'the form is for people we know, and this is nobody we know',
  every_one: 'each entry of this form waits until somebody lets it in',
  condition: 'by what it says, this form holds it',
}
</script>

<template>
  <Dialog v-model:visible="visible" modal header="Try it" :style="{ width: 'min(720px, 96vw)' }">
    <div v-if="!came" class="try">
      <p class="faded">Somebody made up fills in your working copy; change what you like. Nothing of it is kept, and no owner is
        told.<template v-if="definition.questions.some(q => q.kind === 'file')"> A made-up file stands in for each that is asked
          for.</template>
      </p>
      <div ref="host" class="form" />
      <div class="acts">
        <Button label="Send it on its way" :loading="working" @click="tryIt" />
        <label><Checkbox v-model="mailToo" binary input-id="mail-too" /> Mail me what the owner would get</label>
      </div>
    </div>
    <ol v-else class="steps" aria-label="What would come of it">
      <li v-if="came.review">
        <b>Would be {{ came.review.state }}</b>: {{ ASIDE[came.review.reason] ?? came.review.reason }}. It would stand among the entries set
        review.</li>
      <template v-else>
        <li>
          <b>Identified</b> as
          {{ came.person.known ? `${came.person.name}, whom we know` : `somebody new, ${came.person.email ?? came.person.name}` }}<NuxtLink
            v-if="came.person.lead"
            :to="`/follow-up/leads/${came.person.lead}`"
            target="_blank"
          >the
            lead</NuxtLink>
        </li>
        <li v-if="came.result">
          <b>Came to</b>
          “{{ came.result.title }}”<template v-if="came.result.marks">, {{ came.result.marks.earned }} of {{ came.result.marks.possible }}
            points</template>
        </li>
        <li>
          <b>Recorded</b>
          <template v-if="!came.changed.length">; nothing that was known changes</template>
          <span v-for="c in came.changed" :key="c.property" class="line">
            {{ house.propertyName(c.property) }}: “{{ c.from }}” becomes “{{ c.to }}”</span>
          <span v-if="came.tags.length" class="line">Tags: {{ came.tags.join(', ') }}</span>
          <span v-for="words in came.agreed" :key="words" class="line">Agreed: “{{ words }}”</span>
        </li>
        <li>
          <b>Scored</b> fit {{ came.fit }}, interest
          {{ came.interest }}<span v-for="r in came.reasons" :key="r.rule + r.at" class="line">
            {{ r.name }} <span class="faded">{{ r.now > 0 ? '+' : '' }}{{ r.now }} {{ r.axis }}</span>
          </span>
        </li>
        <li>
          <b>Labelled</b>
          {{ came.label ? house.labelName(came.label) : 'with nothing yet' }}<template v-if="came.because === 'point'">, given by this
            form</template>
        </li>
        <li>
          <b>Routed</b> to
          {{ came.owner ?? 'nobody: no lane takes them' }}<template v-if="came.lane"> through the lane “{{ came.lane }}”</template>
          <template v-else-if="came.ownerBy === 'point'">, as this form says</template>
          <template v-else-if="came.owner">, who owns them already</template>
          <span v-if="came.nextStep" class="line">Next step: {{ came.nextStep.text }}, {{ due(came.nextStep.due) }}</span>
        </li>
        <li>
          <b>Announced</b> by a notice and a mail: <template v-if="came.mail">“{{ came.mail.subject }}”</template>
          <template v-else>to nobody</template>
          <span v-for="t in came.notified" :key="t.to" class="line">{{ t.to }} too: “{{ t.subject }}”</span>
        </li>
        <li v-if="came.mails.length">
          <b>Written to</b>
          <span v-for="(l, i) in came.mails" :key="i" class="line">“{{ l.subject }}”
            <span class="faded">
              {{ l.days ? `${count(l.days, 'day', 'days')} later` : 'at once' }}{{ l.waits ? ', once they have confirmed' : '' }}
            </span>
          </span>
          <Button label="Send these to me" size="small" variant="text" :loading="working" @click="sendMails" />
        </li>
      </template>
      <li><b>Taken back</b>: nothing of it is kept.</li>
    </ol>
    <Button v-if="came" label="Change the answers" variant="outlined" @click="again" />
  </Dialog>
</template>

<style scoped>
.try { display: grid; gap: 12px; }
.form { max-height: 52vh; overflow: auto; border: 1px solid var(--rule); }
.acts { display: flex; flex-wrap: wrap; gap: 8px 18px; align-items: center; }
.acts label { display: flex; gap: 8px; align-items: center; }
.steps { margin: 0 0 14px; padding-left: 22px; display: grid; gap: 8px; }
.line { display: block; font-size: 14px; line-height: 20px; }
.steps a { margin-left: 8px; }
</style>

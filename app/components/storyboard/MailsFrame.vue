<script setup lang="ts">
import { mailsOf } from '#core/actions/edit'
import { sayIn } from '#core/languages/say'
import { mailLook } from '#core/mails/look'
import { byClass, mailMarkup, mailOnSheet, mailSheet } from '#core/mails/markup'
import { NOBODY, type MailSample } from '#core/mails/sample'
import { answerText, type PointDefinition } from '#core/points/definition'
import { judgedBy } from '#core/quiz/judge'
import { fillSubject, fillText, quizTexts, type Attributes } from '#core/points/mails'
import { sampleAnswers } from '#core/points/sample'

/** The mails to visitors as somebody would get them: made up, real, or known by nothing; on a wide screen or a phone; and as a test to oneself. */
const props = defineProps<{ definition: PointDefinition; name: string; id: string; slug: string; revision: number; mayTest: boolean }>()
const say = useToasts()
const { origin } = window.location
const { data: real, refresh } = useLiveQuery(() => api<MailSample[]>(`/api/team/points/${props.id}/mail-samples`), { points: [props.id] })
watch(
  () => props.revision,
  () => void refresh(),
)

const madeUp = computed<MailSample>(() => {
  const answers = sampleAnswers(props.definition)
  return {
    id: 'made-up',
    who: 'Ines Thornbury, who is made up',
    fits: null,
    lead: {
      first_name: 'Ines',
      last_name: 'Thornbury',
      name: 'Ines Thornbury',
      company: 'Brackwater School',
      email: 'ines.thornbury@brackwater.example',
    },
    quiz: quizTexts(props.definition, { judged: judgedBy(props.definition, answers), answers, language: props.definition.language }),
    answer: Object.fromEntries(
      props.definition.questions.flatMap(q =>
        answers[q.key] === undefined ? [] : [[q.key, answerText(q, answers[q.key]!, props.definition.language)]],
      ),
    ),
  }
})
const people = computed<MailSample[]>(() => [
  madeUp.value,
  { id: 'nobody', who: 'Somebody who gave nothing', fits: null, ...NOBODY },
  ...(real.value ?? []),
])
const chosen = ref('made-up')
const person = computed(() => people.value.find(p => p.id === chosen.value) ?? madeUp.value)
const phone = ref(false)

interface Shown {
  key: string
  kind: 'confirm' | 'reminder' | 'mail'
  when: string
  subject: string
  text: string
  link: string
}
const mails = computed<Shown[]>(() => {
  const { confirm, reminder } = props.definition
  const after = confirm ? ', once they have confirmed' : ''
  return [
    ...(confirm
      ? [
          {
            key: 'confirm',
            kind: 'confirm' as const,
            when: 'At once, and nothing else until the link is used',
            subject: confirm.subject,
            text: confirm.text,
            link: 'c',
          },
        ]
      : []),
    ...(reminder
      ? [
          {
            key: 'reminder',
            kind: 'reminder' as const,
            when: `Only if they begin and do not send: ${count(reminder.hours, 'hour', 'hours')} later`,
            subject: reminder.subject,
            text: reminder.text,
            link: 'p',
          },
        ]
      : []),
    ...mailsOf(props.definition).map(l => ({
      key: l.key,
      kind: 'mail' as const,
      when: `${l.days ? `${count(l.days, 'day', 'days')} later` : 'At once'}${after}${l.unlessClicked ? ', unless they followed a link before' : ''}${l.when ? ', where its condition holds' : ''}`,
      subject: l.subject,
      text: l.text,
      link: l.goal ? 'go' : '',
    })),
  ]
})
function filled({ subject, text, link }: Shown): { subject: string; text: string } {
  const attributes: Attributes = {
    lead: person.value.lead,
    answer: person.value.answer,
    quiz: person.value.quiz,
    point: { name: props.name, title: props.definition.title },
    link: link && `${origin}/${link}/…`,
    again: `${origin}/p/…`,
    correct: `${origin}/e/…`,
  }
  try {
    return { subject: fillSubject(subject, attributes), text: fillText(text, attributes) }
  } catch {
    return { subject, text }
  }
}
const goes = (mail: Shown) => mail.kind !== 'mail' || !person.value.fits || person.value.fits.includes(mail.key)
const drawn = computed(() =>
  mails.value.map(mail => {
    const say = sayIn(props.definition.language)
    const words = filled(mail)
    return {
      ...mail,
      ...words,
      goes: goes(mail),
      html: mailOnSheet(
        mailMarkup(words.text, byClass, mail.kind === 'confirm' ? say('mailConfirm') : undefined),
        mail.kind === 'confirm' ? say('mailConfirmFoot') : `${say('mailLeave')}.`,
        mailLook(props.definition.theme, props.definition.language),
        byClass,
        '',
      ),
    }
  }),
)

/** Draws a mail in a place of its own, in which only its own styles hold. */
const vMail = {
  mounted: (host: HTMLElement, { value }: { value: string }) => draw(host.attachShadow({ mode: 'open' }), value),
  updated: (host: HTMLElement, { value }: { value: string }) => draw(host.shadowRoot!, value),
}
function draw(root: ShadowRoot, html: string): void {
  const sheet = new CSSStyleSheet()
  sheet.replaceSync(
    `:host{display:block}a{pointer-events:none}img{max-width:100%;height:auto}${mailSheet(mailLook(props.definition.theme, props.definition.language))}.mail-body{padding:14px 12px}`,
  )
  root.adoptedStyleSheets = [sheet]
  root.innerHTML = `<div class="mail-body">${html}</div>`
}

const sending = ref('')
async function test(mail: Shown): Promise<void> {
  sending.value = mail.key
  try {
    say.done(`On its way to ${await sendMailTest(props.id, [asMailTest(filled(mail), props.slug)])}.`)
  } catch (error) {
    say.failed(error)
  } finally {
    sending.value = ''
  }
}
</script>

<template>
  <div class="mails">
    <p v-if="!mails.length" class="sheet none faded">They get no mail. Ask them to confirm their address, thank them, or write again some
      days later: set it up at the side.</p>
    <div v-else class="who">
      <label id="mail-who">As it comes to</label>
      <Select v-model="chosen" :options="people" option-label="who" option-value="id" size="small" aria-labelledby="mail-who" />
      <Button :label="phone ? 'As on a wide screen' : 'As on a phone'" size="small" variant="text" @click="phone = !phone" />
    </div>
    <article
      v-for="mail in drawn"
      :key="mail.key"
      class="sheet mail"
      :class="{ phone, not: !mail.goes }"
      :aria-label="`Mail: ${mail.subject || 'no subject'}`"
    >
      <div class="bar">
        <p class="faded small">
          {{ mail.when }}<template v-if="!mail.goes">.
            <b>Not to {{ person.who }}:
              {{ definition.mailing.which === 'first' ? 'another fits first, or its condition does not hold' : 'its condition does not hold' }}
            </b>
          </template>
        </p>
        <Button v-if="mayTest" label="Send it to me" size="small" variant="text" :loading="sending === mail.key" @click="test(mail)" />
      </div>
      <h3>{{ mail.subject || 'No subject' }}</h3>
      <div v-mail="mail.html" class="drawn" />
    </article>
  </div>
</template>

<style scoped>
.mails { display: grid; gap: 14px; max-width: 640px; }
.who { display: flex; flex-wrap: wrap; gap: 6px 10px; align-items: center; }
.who .p-select { min-width: 15rem; max-width: 100%; }
.mail { padding: 12px 16px 16px; display: grid; gap: 8px; min-width: 0; }
.bar { display: flex; justify-content: space-between; gap: 10px; align-items: start; }
.bar p { margin: 4px 0; }
.bar .p-button { flex: none; }
.phone { max-width: 392px; }
.not .drawn, .not h3 { opacity: .55; }
.none { padding: 20px; }
</style>

<script setup lang="ts">
import { mailsOf } from '#core/actions/edit'
import { answerText, type PointDefinition } from '#core/points/definition'
import { fillIn, type Attributes } from '#core/points/mails'
import { sampleAnswers } from '#core/points/sample'

/** The mails to visitors as a made-up person would get them. */
const props = defineProps<{ definition: PointDefinition; name: string }>()
const { origin } = window.location
const attributes = computed<Attributes>(() => {
  const answers = sampleAnswers(props.definition)
  return {
    lead: { first_name: 'Ines', last_name: 'Thornbury', name: 'Ines Thornbury', company: 'Brackwater School', email: 'ines.thornbury@brackwater.example' },
    answer: Object.fromEntries(props.definition.questions.flatMap(q => answers[q.key] === undefined ? [] : [[q.key, answerText(q, answers[q.key]!)]])),
    point: { name: props.name, title: props.definition.title }, link: `${origin}/c/…`, again: `${origin}/p/…`, correct: `${origin}/e/…`,
  }
})
function filled(text: string, key = ''): string {
  try {
    return fillIn(text, { ...attributes.value, link: `${origin}/${{ confirm: 'c', reminder: 'p' }[key] ?? 'go'}/…` })
  } catch {
    return text
  }
}
const mails = computed(() => [
  ...(props.definition.confirm ? [{ key: 'confirm', when: 'At once, and nothing else until the link is used', subject: props.definition.confirm.subject, text: props.definition.confirm.text }] : []),
  ...(props.definition.reminder ? [{ key: 'reminder', when: `Only if they begin and do not send: ${count(props.definition.reminder.hours, 'hour', 'hours')} later`, subject: props.definition.reminder.subject, text: props.definition.reminder.text }] : []),
  ...mailsOf(props.definition).map(l => ({ key: l.key, when: `${l.days ? `${count(l.days, 'day', 'days')} later` : 'At once'}${props.definition.confirm ? ', once they have confirmed' : ''}${l.unlessClicked ? ', unless they followed a link before' : ''}${l.when ? ', where its condition holds' : ''}`, subject: l.subject, text: l.text })),
])
</script>

<template>
  <div class="mails">
    <p v-if="!mails.length" class="sheet none faded">They get no mail. Ask them to confirm their address, thank them, or write again some days later: set it up at the side.</p>
    <article v-for="mail in mails" :key="mail.key" class="sheet mail">
      <p class="faded small">{{ mail.when }}, to Ines Thornbury, who is made up</p>
      <h3>{{ filled(mail.subject) || 'No subject' }}</h3>
      <p class="text">{{ filled(mail.text, mail.key) }}</p>
    </article>
  </div>
</template>

<style scoped>
.mails { display: grid; gap: 14px; max-width: 640px; }
.mail { padding: 16px 20px; display: grid; gap: 8px; }
.none { padding: 20px; }
.text { white-space: pre-wrap; overflow-wrap: anywhere; }
</style>

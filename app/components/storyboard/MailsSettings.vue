<script setup lang="ts">
import { Trash2 } from 'lucide-vue-next'
import { addedAction, changedAction, mailsOf, withoutAction } from '#core/actions/edit'
import { parseEmail } from '#core/identity/email'
import type { PointDefinition } from '#core/points/definition'
import { alsoIn, leadTo } from '#core/points/goals'
import { firstConfirmation, firstMail, firstReminder, placesFor, type Mail } from '#core/points/mails'
import type { Reminder } from '#core/points/reminder'
import type { Next, NextKind } from '#core/points/next'

/** Mails to whoever completes an entry: the request to confirm, and what follows. */
const definition = defineModel<PointDefinition>({ required: true })
defineProps<{ disabled: boolean }>()

/** Heavy, and only here: it comes with the frame. */
const TemplateField = defineAsyncComponent(() => import('~/components/template/TemplateField.vue'))
const house = useHouse()
const { attributes, activityAttributes } = useEntryAttributes(definition)
const WHICH = [
  { key: 'all', name: 'All that fit them' },
  { key: 'first', name: 'The first that fits them' },
]
const setMailing = (change: Partial<PointDefinition['mailing']>) => set({ mailing: { ...definition.value.mailing, ...change } })
const replyFlaw = ref('')
function setReply(typed: string): void {
  const reply = typed.trim()
  replyFlaw.value = !reply || parseEmail(reply) ? '' : 'This is no complete e-mail address. It should look like visits@firm.example.'
  if (!replyFlaw.value) setMailing({ reply })
}
const set = (change: Partial<PointDefinition>) => {
  definition.value = { ...definition.value, ...change }
}
const mails = computed(() => mailsOf(definition.value))
const setMail = (i: number, change: Partial<Omit<Mail, 'key' | 'kind'>>) => {
  definition.value = changedAction<Mail>(mails.value[i]!.key, change)(definition.value)
}
function confirm(on: boolean): void {
  set({ confirm: on ? firstConfirmation() : null })
}
function add(): void {
  definition.value = addedAction(definition.value, 'mail', firstMail(mails.value.length > 0))
}
const THEN: { key: NextKind; name: string }[] = [
  { key: 'message', name: 'Read the words above' },
  { key: 'address', name: 'Go on to another address' },
  { key: 'file', name: 'Download a file, beside the words above' },
]
const GOALS: { key: NextKind; name: string }[] = [
  { key: 'message', name: 'No link' },
  { key: 'address', name: 'An address' },
  { key: 'file', name: 'A file' },
]
const lead = (place: string, goal: Next, alone: boolean) => {
  definition.value = leadTo(definition.value, place, goal, alone)
}
const { data: site } = useSite()
function remind(on: boolean): void {
  set({ reminder: on ? firstReminder() : null })
}
const setReminder = (change: Partial<Reminder>) => set({ reminder: { ...definition.value.reminder!, ...change } })
const hours = (typed: string | undefined) => Math.min(168, Math.max(1, Math.round(Number(typed)) || 1))
const mayHang = (i: number) => mails.value.slice(0, i).some(l => l.goal)
const days = (i: number, typed: string | undefined) =>
  setMail(i, { days: /^\d{1,2}$/.test(typed?.trim() ?? '') ? Math.min(90, Number(typed)) : 0 })
</script>

<template>
  <fieldset class="mails" :disabled="disabled">
    <legend class="unseen">Mails to visitors</legend>
    <label class="tick">
      <Checkbox :model-value="definition.confirm !== null" binary input-id="confirm" :disabled="disabled" @update:model-value="confirm" />
      First ask them to confirm their address</label>
    <template v-if="definition.confirm">
      <span class="label">Subject</span>
      <TemplateField
        id="confirm-subject"
        kind="line"
        called="Subject of the request"
        :places="placesFor(definition, 'confirm')"
        :most="200"
        :disabled="disabled"
        :model-value="definition.confirm.subject"
        @update:model-value="set({ confirm: { ...definition.confirm!, subject: $event } })"
      />
      <span class="label">Text, with the link to confirm</span>
      <TemplateField
        id="confirm-text"
        kind="text"
        called="Text of the request"
        :places="placesFor(definition, 'confirm')"
        :most="20000"
        :disabled="disabled"
        :model-value="definition.confirm.text"
        @update:model-value="set({ confirm: { ...definition.confirm!, text: $event } })"
      />
      <label for="confirm-done">What they read once they have confirmed</label>
      <Textarea
        id="confirm-done"
        :model-value="definition.confirm.done"
        rows="2"
        auto-resize
        fluid
        maxlength="4000"
        @update:model-value="set({ confirm: { ...definition.confirm!, done: $event ?? '' } })"
      />
      <GoalPick
        id="confirm-then"
        :goal="definition.confirm.then"
        :kinds="THEN"
        called="Then they"
        :disabled="disabled"
        :also="alsoIn(definition, 'confirm')"
        @lead="(goal, alone) => lead('confirm', goal, alone)"
      />
    </template>
    <section v-for="(mail, i) in mails" :key="mail.key" :aria-label="`Mail ${i + 1}`">
      <div class="bar">
        <h2>Mail {{ i + 1 }}</h2>
        <Button
          v-if="!disabled"
          variant="text"
          size="small"
          severity="secondary"
          :aria-label="`Take mail ${i + 1} out`"
          @click="definition = withoutAction(mail.key)(definition)"
        >
          <Trash2 :size="15" aria-hidden="true" />
        </Button>
      </div>
      <label :for="`mail-${i}-days`">So many days later; 0 is at once</label>
      <InputText
        :id="`mail-${i}-days`"
        :model-value="String(mail.days)"
        inputmode="numeric"
        maxlength="2"
        class="days"
        @update:model-value="days(i, $event)"
      />
      <span class="label">Subject</span>
      <TemplateField
        :id="`mail-${i}-subject`"
        kind="line"
        :called="`Subject of mail ${i + 1}`"
        :places="placesFor(definition, mail.goal ? 'mail with goal' : 'mail')"
        :most="200"
        :disabled="disabled"
        :model-value="mail.subject"
        @update:model-value="setMail(i, { subject: $event })"
      />
      <span class="label">Text</span>
      <TemplateField
        :id="`mail-${i}-text`"
        kind="text"
        :called="`Text of mail ${i + 1}`"
        :places="placesFor(definition, mail.goal ? 'mail with goal' : 'mail')"
        :most="20000"
        :disabled="disabled"
        :model-value="mail.text"
        @update:model-value="setMail(i, { text: $event })"
      />
      <GoalPick
        :id="`mail-${i}-goal`"
        :goal="mail.goal ?? { kind: 'message' }"
        :kinds="GOALS"
        called="Its link leads to"
        :disabled="disabled"
        :also="alsoIn(definition, `mail ${mail.key}`)"
        @lead="(goal, alone) => lead(`mail ${mail.key}`, goal, alone)"
      />
      <label class="tick">
        <Checkbox
          :model-value="mail.when !== null"
          binary
          :input-id="`mail-${i}-when`"
          :disabled="disabled"
          @update:model-value="setMail(i, { when: $event ? { all: [{ attribute: attributes[0]!.name, is: 'filled' }] } : null })"
        />
        Only if</label>
      <ConditionTree
        v-if="mail.when"
        :model-value="mail.when"
        :attributes="attributes"
        :activity-attributes="activityAttributes"
        :disabled="disabled"
        :called="`When mail ${i + 1} goes out`"
        @update:model-value="setMail(i, { when: $event })"
      />
      <label v-if="mayHang(i) || mail.unlessClicked" class="tick">
        <Checkbox
          :model-value="mail.unlessClicked"
          binary
          :input-id="`mail-${i}-unless`"
          :disabled="disabled"
          @update:model-value="setMail(i, { unlessClicked: $event })"
        />
        Only to those who have not followed the link of a mail before</label>
    </section>
    <Button v-if="!disabled && mails.length < 5" label="Add a mail" variant="outlined" size="small" @click="add" />
    <section v-if="mails.length || definition.confirm" aria-label="How they are sent">
      <template v-if="mails.length > 1">
        <label id="mailing-which">Of these mails somebody gets</label>
        <Select
          :model-value="definition.mailing.which"
          :options="WHICH"
          option-label="name"
          option-value="key"
          fluid
          :disabled="disabled"
          aria-labelledby="mailing-which"
          @update:model-value="setMailing({ which: $event })"
        />
      </template>
      <label for="mailing-name">The sender’s name; empty: {{ house.words!.house.name }}</label>
      <InputText
        id="mailing-name"
        :model-value="definition.mailing.name"
        fluid
        maxlength="60"
        @update:model-value="setMailing({ name: $event ?? '' })"
      />
      <label for="mailing-reply">Replies go to; empty: where the house has its mail</label>
      <InputText
        id="mailing-reply"
        :model-value="definition.mailing.reply"
        type="email"
        fluid
        maxlength="254"
        placeholder="visits@firm.example"
        :invalid="Boolean(replyFlaw)"
        aria-describedby="mailing-reply-flaw"
        @change="setReply(($event.target as HTMLInputElement).value)"
      />
      <p v-if="replyFlaw" id="mailing-reply-flaw" class="brick small" role="alert">{{ replyFlaw }}</p>
    </section>
    <section aria-label="Reminder">
      <label class="tick">
        <Checkbox
          :model-value="definition.reminder !== null"
          binary
          input-id="reminder"
          :disabled="disabled"
          @update:model-value="remind"
        />
        Remind people who began and did not send</label>
      <template v-if="definition.reminder">
        <label for="reminder-hours">So many hours after they stopped</label>
        <InputText
          id="reminder-hours"
          :model-value="String(definition.reminder.hours)"
          inputmode="numeric"
          maxlength="3"
          class="days"
          @update:model-value="setReminder({ hours: hours($event) })"
        />
        <span class="label">Subject of the reminder</span>
        <TemplateField
          id="reminder-subject"
          kind="line"
          called="Subject of the reminder"
          :places="placesFor(definition, 'reminder')"
          :most="200"
          :disabled="disabled"
          :model-value="definition.reminder.subject"
          @update:model-value="setReminder({ subject: $event })"
        />
        <span class="label">Text of the reminder, with the link to the form</span>
        <TemplateField
          id="reminder-text"
          kind="text"
          called="Text of the reminder"
          :places="placesFor(definition, 'reminder')"
          :most="20000"
          :disabled="disabled"
          :model-value="definition.reminder.text"
          @update:model-value="setReminder({ text: $event })"
        />
        <p class="small faded">It goes out once, to those who ticked that mails are welcome, here or
          before<template v-if="site && !site.mailUnfinished">.
            <b>Now it goes to nobody: <NuxtLink to="/settings/site">the site’s settings</NuxtLink> do not allow it</b>
          </template>.</p>
      </template>
    </section>
    <p class="small faded">Each mail ends with a way to leave. Whoever has left gets only what answers an entry at once, and no form puts
      them back.</p>
  </fieldset>
</template>

<style scoped>
.mails { margin: 0; padding: 0; border: 0; display: grid; gap: 4px; min-width: 0; justify-items: start; }
.mails > *, section > * { max-width: 100%; }
section { width: 100%; display: grid; gap: 4px; margin-top: 14px; padding-top: 8px; border-top: 1px solid var(--rule); }
.bar { display: flex; justify-content: space-between; align-items: center; }
label, .label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 6px; }
.tick { display: flex; gap: 8px; align-items: center; color: var(--ink); font-size: 15px; }
.days { width: 5rem; justify-self: start; }
</style>

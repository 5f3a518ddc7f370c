<script setup lang="ts">
import type { LeadFile } from '#core/files/lead-file'
import { subjectTo, writtenTo } from '#core/mails/personal'
import type { LeadView } from '#core/team'

interface ReadyText {
  id: string
  name: string
  subject: string
  body: string
}

/** A mail to one person, from whoever writes it; the answer comes back here. What is half written stays in this browser. */
const visible = defineModel<boolean>('visible', { required: true })
const props = defineProps<{ lead: LeadView }>()
const emit = defineEmits<{ sent: []; left: [] }>()
const house = useHouse()
const session = useSession()
const say = useToasts()
const subject = useDraft(() => `mail-subject ${props.lead.id}`)
const text = useDraft(() => `mail ${props.lead.id}`)
const sending = ref(false)
const problem = ref('')
const files = ref<LeadFile[]>([])
/** Texts of the team to begin with; what is known of them stands in already. */
const ready = ref<ReadyText[]>([])
const us = computed(() => ({ me: session.me!.name, house: house.words!.house.name }))
const known = computed(() =>
  Object.fromEntries(Object.entries(props.lead.properties).map(([key, value]) => [key, house.valueText(key, value)])),
)
function begin(chosen: ReadyText | null): void {
  if (!chosen) return
  subject.value = subjectTo(chosen.subject, props.lead, us.value, known.value)
  text.value = writtenTo(chosen.body, props.lead, us.value, known.value)
}
watch(visible, shown => {
  problem.value = ''
  if (!shown) return
  if (!text.value) text.value = writtenTo('\n\n', props.lead, us.value, {})
  api<{ texts: ReadyText[] }>('/api/team/ready-texts')
    .then(({ texts }) => {
      ready.value = texts
    })
    .catch(() => {})
})
async function send(): Promise<void> {
  problem.value = !subject.value.trim() ? 'Say what it is about.' : !text.value.trim() ? 'Write something.' : ''
  if (problem.value || sending.value) return
  sending.value = true
  try {
    await api(`/api/team/leads/${props.lead.id}/mails`, {
      method: 'POST',
      body: { subject: subject.value, text: text.value, ...(files.value.length && { files: files.value.map(f => f.id) }) },
    })
    subject.value = ''
    text.value = ''
    files.value = []
    visible.value = false
    say.done(`On its way to ${props.lead.name}.`)
    emit('sent')
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    sending.value = false
  }
}
function discard(): void {
  subject.value = ''
  text.value = ''
  visible.value = false
}
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    :header="`Write to ${lead.name}`"
    :style="{ width: 'min(40rem, 96vw)' }"
    @after-hide="emit('left')"
  >
    <form class="mail" @submit.prevent="send" @keydown.ctrl.enter="send" @keydown.meta.enter="send">
      <p class="faded small">To {{ lead.email }}, from {{ session.me!.name }}. Their answer comes back here.</p>
      <p class="ready small">
        <Select
          v-if="ready.length"
          :model-value="null"
          :options="ready"
          option-label="name"
          placeholder="Begin with a ready text …"
          size="small"
          aria-label="Begin with a ready text"
          @update:model-value="begin($event)"
        />
        <NuxtLink to="/follow-up/texts">Ready texts of the team</NuxtLink>
      </p>
      <label for="mail-subject">About</label>
      <InputText id="mail-subject" v-model="subject" maxlength="200" autofocus fluid />
      <label for="mail-text">Text</label>
      <Textarea id="mail-text" v-model="text" rows="10" auto-resize maxlength="20000" fluid />
      <LeadFilesToSend v-model="files" :lead="lead.id" called="Mail" />
      <p v-if="problem" role="alert" class="brick">{{ problem }}</p>
      <p class="ways">
        <Button type="submit" label="Send it" :loading="sending" />
        <Button type="button" label="Throw it away" variant="text" severity="secondary" @click="discard" />
      </p>
    </form>
  </Dialog>
</template>

<style scoped>
.mail { display: grid; gap: 6px; }
.ready, .ways { display: flex; flex-wrap: wrap; gap: 4px 8px; align-items: center; }
</style>

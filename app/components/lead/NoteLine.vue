<script setup lang="ts">
import type { NotePayload } from '#core/timeline'

/** A note as it stands now: who wrote it may change or remove it; what it said before stays to be read. */
const props = defineProps<{ note: NotePayload; /** Null: it is only read. */ lead: string | null }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const house = useHouse()
const say = useToasts()
const isOwn = computed(() => props.lead !== null && props.note.by === session.me!.id && session.may('work leads'))
const last = computed(() => props.note.versions.at(-1))
const text = computed(() => (last.value ? last.value.text : (props.note.text ?? '')))
/** What it said before, the first first. */
const before = computed(() =>
  [{ at: null as string | null, text: props.note.text ?? '' }, ...props.note.versions.slice(0, -1)].slice(0, props.note.versions.length),
)
const editing = ref(false)
const typed = ref('')
const busy = ref(false)
const pieces = computed(() => {
  const names = (props.note.mentions ?? []).map(id => `@${house.memberName(id)}`)
  const escaped = names.map(name => name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
  return names.length && text.value
    ? text.value.split(new RegExp(`(${escaped.join('|')})`)).map(piece => ({ text: piece, named: names.includes(piece) }))
    : [{ text: text.value ?? '', named: false }]
})
function edit(): void {
  typed.value = text.value ?? ''
  editing.value = true
}
async function change(to: string | null): Promise<boolean> {
  busy.value = true
  try {
    await api(`/api/team/leads/${props.lead}/notes`, { method: 'PUT', body: { of: props.note.of, text: to, was: text.value } })
    emit('changed')
    return true
  } catch (error) {
    say.failed(error)
    return false
  } finally {
    busy.value = false
  }
}
async function keep(): Promise<void> {
  if (typed.value.trim() && (await change(typed.value))) editing.value = false
}
async function remove(): Promise<void> {
  const was = text.value
  if (await change(null)) say.done('The note is removed.', async () => void (await change(was)))
}
</script>

<template>
  <div class="note-line">
    <form v-if="editing" class="edit" @submit.prevent="keep">
      <LeadNoteBox v-model="typed" label="Change the note" @keep="keep" @left="editing = false" />
      <p>
        <Button type="submit" size="small" label="Keep it" :disabled="!typed.trim()" :loading="busy" />
        <Button type="button" size="small" variant="text" severity="secondary" label="Leave it as it was" @click="editing = false" />
      </p>
    </form>
    <p v-else-if="text === null" class="faded small">Removed {{ ago(last!.at) }}.</p>
    <p v-else-if="text" class="said">
      <template v-for="(piece, i) in pieces" :key="i">
        <b v-if="piece.named">{{ piece.text }}</b>
        <template v-else>{{ piece.text }}</template>
      </template>
    </p>
    <template v-if="text !== null">
      <a v-for="f in note.files ?? []" :key="f.id" :href="`/api/team/files/${f.id}`" class="file">{{ f.name }}</a>
    </template>
    <div v-if="note.versions.length || (isOwn && text !== null)" class="ways small">
      <details v-if="note.versions.length">
        <summary class="faded">{{ text === null ? 'What it said' : `Changed ${ago(last!.at)}` }}</summary>
        <p v-for="(v, i) in before" :key="i" class="was">{{ v.text ?? 'It was removed.' }}</p>
      </details>
      <template v-if="isOwn && text !== null && !editing">
        <button type="button" class="link" @click="edit">Change</button>
        <button type="button" class="link" :disabled="busy" @click="remove">Remove</button>
      </template>
    </div>
  </div>
</template>

<style scoped>
.said { white-space: pre-wrap; border-left: 3px solid var(--spruce); padding-left: 10px; }
.edit { display: grid; gap: 6px; margin: 4px 0; } .edit p { display: flex; gap: 8px; }
.file { display: block; }
.ways { display: flex; flex-wrap: wrap; gap: 0 14px; align-items: baseline; }
.was { white-space: pre-wrap; color: var(--faded); border-left: 3px solid var(--rule); padding-left: 10px; margin: 4px 0; }
.link { all: unset; cursor: pointer; color: var(--spruce); text-decoration: underline; line-height: 24px; } .link:focus-visible { outline: 2px solid var(--spruce); outline-offset: 2px; }
</style>

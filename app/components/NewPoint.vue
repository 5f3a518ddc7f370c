<script setup lang="ts">
import type { PointKind } from '#core/points/kinds'

/** Makes a form or a page: blank, from a starter, or as a copy of another; then its editor opens. */
const visible = defineModel<boolean>('visible', { required: true })
const props = defineProps<{
  kind: PointKind
  sources: { key: string; name: string; what: string }[]
  copied: { id: string; name: string } | null
  names: string[]
  example: string
}>()
const beginning = ref('')
const name = ref('')
const flaw = ref('')
/** A file that one was taken away as, once chosen. */
const file = ref<{ name: string; content: object } | null>(null)
watch(visible, open => {
  if (!open) return
  name.value = props.copied ? `${props.copied.name}, copy` : ''
  beginning.value = ''
  flaw.value = ''
  file.value = null
})
/** A starter brings a name along, as long as none was written. */
function choose(key: string): void {
  const named = props.sources.some(s => s.key && s.name === name.value)
  beginning.value = key
  if (!name.value.trim() || named) name.value = key ? (props.sources.find(s => s.key === key)?.name ?? '') : ''
}
async function takeFile(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  input.value = ''
  if (!chosen) return
  flaw.value = ''
  try {
    const content = JSON.parse(await chosen.text()) as { kind?: unknown; name?: unknown } | null
    if (typeof content?.kind !== 'string') throw new TypeError('no kind')
    if (content.kind !== props.kind) flaw.value = `${chosen.name} is of a ${content.kind}, not of a ${props.kind}. Choose another file.`
    else {
      file.value = { name: chosen.name, content }
      if (!name.value.trim()) name.value = String(content.name ?? '').slice(0, 120)
    }
  } catch {
    flaw.value = `${chosen.name} is no file that a form, quiz or page was taken away as.`
  }
}
async function make(): Promise<void> {
  flaw.value = props.names.some(n => n.toLowerCase() === name.value.trim().toLowerCase())
    ? `Another ${props.kind} has this name. Choose one that tells them apart.`
    : ''
  if (flaw.value) return
  try {
    const from = props.copied
      ? { copyOf: props.copied.id }
      : file.value
        ? { file: file.value.content }
        : beginning.value
          ? { starter: beginning.value }
          : {}
    const { id } = await api<{ id: string }>('/api/team/points', { method: 'POST', body: { kind: props.kind, name: name.value, ...from } })
    await navigateTo(`/capture/${props.kind === 'page' ? 'pages' : 'points'}/${id}`)
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
</script>

<template>
  <Dialog v-model:visible="visible" modal :header="`New ${kind}`" :style="{ width: 'min(640px, 94vw)' }">
    <form class="make" @submit.prevent="make">
      <div v-if="!copied && !file" class="starters" role="radiogroup" aria-label="What it begins with">
        <label v-for="s in sources" :key="s.key" :class="{ on: beginning === s.key }">
          <input type="radio" class="unseen" name="beginning" :value="s.key" :checked="beginning === s.key" @change="choose(s.key)">
          <b>{{ s.name }}</b>
          <span class="faded small">{{ s.what }}</span>
        </label>
      </div>
      <p v-if="!copied" class="file">
        <label class="pick">
          <input
            type="file"
            class="unseen"
            accept=".json,application/json"
            @change="takeFile"
          >{{ file ? 'Another file' : `Or from a file that a ${kind} was taken away as` }}
        </label>
        <template v-if="file">
          <b>{{ file.name }}</b> <Button label="Not from it" variant="text" size="small" severity="secondary" @click="file = null" />
        </template>
      </p>
      <p v-else class="faded">A copy of {{ copied.name }}, with everything in it and not live.</p>
      <label for="new-name">What do you call it among yourselves?</label>
      <InputText id="new-name" v-model="name" autofocus fluid maxlength="120" :placeholder="example" />
      <p class="problem" role="alert">{{ flaw }}</p>
      <Button type="submit" label="Make it" :disabled="!name.trim()" />
    </form>
  </Dialog>
</template>

<style scoped>
.make { display: grid; gap: 8px; }
.starters { display: grid; grid-template-columns: repeat(auto-fill, minmax(170px, 1fr)); gap: 6px; margin-bottom: 6px; }
.starters label { position: relative; display: grid; padding: 7px 10px; border: 1px solid var(--rule); border-radius: 4px; cursor: pointer; }
.starters .on { border-color: var(--spruce); background: var(--wash); }
.starters label:focus-within { outline: 2px solid var(--spruce); outline-offset: 1px; }
.file { margin: 0; }
.pick { position: relative; color: var(--spruce); text-decoration: underline; cursor: pointer; }
.pick:focus-within { outline: 2px solid var(--spruce); outline-offset: 2px; }
.make > .p-button { justify-self: start; }
.problem { color: var(--brick); min-height: 22px; }
</style>

<script setup lang="ts">
import { sizeText } from '#core/files/kinds'
import type { LeadFile } from '#core/files/lead-file'

/** Files that go along with a note or a mail about a lead. */
const files = defineModel<LeadFile[]>({ required: true })
const props = defineProps<{ lead: string; called: string }>()
const input = ref<HTMLInputElement>()
const busy = ref(false)
const flaw = ref('')
async function add(list: FileList | null): Promise<void> {
  flaw.value = ''
  busy.value = true
  for (const file of list ?? []) {
    const body = new FormData()
    body.append('file', file)
    try {
      files.value = [...files.value, await api<LeadFile>(`/api/team/leads/${props.lead}/files`, { method: 'POST', body })]
    } catch (error) {
      flaw.value = (error as Error).message
    }
  }
  busy.value = false
  if (input.value) input.value.value = ''
}
</script>

<template>
  <div class="files">
    <Button
      type="button"
      size="small"
      variant="text"
      severity="secondary"
      :label="busy ? 'Sending …' : 'Add a file …'"
      :loading="busy"
      :aria-label="`${called}: add a file`"
      @click="input?.click()"
    />
    <input
      ref="input"
      type="file"
      multiple
      class="unseen"
      tabindex="-1"
      aria-hidden="true"
      @change="add(($event.target as HTMLInputElement).files)"
    >
    <span v-for="f in files" :key="f.id" class="small file">
      {{ f.name }} <span class="faded">{{ sizeText(f.size) }}</span>
      <Button
        type="button"
        size="small"
        variant="text"
        severity="secondary"
        label="Take it out"
        :aria-label="`Take out ${f.name}`"
        @click="files = files.filter(x => x.id !== f.id)"
      />
    </span>
    <span v-if="flaw" role="alert" class="brick small">{{ flaw }}</span>
  </div>
</template>

<style scoped>
.files { display: flex; flex-wrap: wrap; gap: 2px 12px; align-items: center; min-width: 0; overflow-wrap: anywhere; }
</style>

<script setup lang="ts">
import type { MergeView } from '#core/review'

/** Who went into a lead, and the way back. */
const props = defineProps<{ merges: MergeView[]; name: string }>()
const emit = defineEmits<{ apart: [] }>()
const say = useToasts()
const busy = ref('')
async function takeApart(merge: MergeView): Promise<void> {
  if (busy.value) return
  busy.value = merge.id
  try {
    const { gone } = await api<{ gone: string }>(`/api/team/merges/${merge.id}`, { method: 'DELETE' })
    say.done(`${props.name} and ${merge.name} are two leads again.`)
    emit('apart')
    void navigateTo(`/follow-up/leads/${gone}`)
  } catch (error) {
    say.failed(error)
    emit('apart')
  } finally {
    busy.value = ''
  }
}
</script>

<template>
  <ul class="merges" aria-label="Joined with">
    <li v-for="m in merges" :key="m.id">
      <span>Joined with <b>{{ m.name }}</b>
        <template v-if="m.email && m.email !== m.name"> ({{ m.email }})</template> by {{ m.by ?? 'somebody' }}, {{ ago(m.at) }}
      </span>
      <Button
        label="Take apart"
        variant="text"
        size="small"
        :loading="busy === m.id"
        :aria-label="`Take ${m.name} apart again`"
        @click="takeApart(m)"
      />
    </li>
  </ul>
</template>

<style scoped>
.merges { list-style: none; margin: 0; padding: 0; font-size: 14px; line-height: 20px; }
li { display: flex; flex-wrap: wrap; gap: 2px 10px; align-items: center; overflow-wrap: anywhere; }
</style>

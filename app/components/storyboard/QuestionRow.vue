<script setup lang="ts">
import { GripVertical, Trash2 } from 'lucide-vue-next'

/** One question in the list, closed: its text, what it is, and what can be done with it. Drawn anew only when one of these changes. */
defineProps<{ label: string; second: string; row: string; open: boolean; first: boolean; last: boolean; disabled: boolean }>()
const emit = defineEmits<{ toggle: []; move: [by: number]; remove: [] }>()
</script>

<template>
  <div class="bar">
    <span v-if="!disabled" class="grip" aria-hidden="true" title="Drag to another place"><GripVertical :size="16" /></span>
    <button
      type="button"
      class="title"
      :aria-expanded="open"
      :aria-controls="`row-${row}-body`"
      :aria-label="label || 'Question without a text'"
      @click="emit('toggle')"
    >
      {{ label || 'Question without a text' }}<span class="faded"> {{ second }}</span>
    </button>
    <span v-if="!disabled" class="tools">
      <MoveButtons :called="`“${label}”`" :first="first" :last="last" @move="emit('move', $event)" />
      <Button variant="text" size="small" severity="secondary" :aria-label="`Take “${label}” out`" @click="emit('remove')">
        <Trash2 :size="15" aria-hidden="true" />
      </Button>
    </span>
  </div>
</template>

<style scoped>
.bar { display: flex; align-items: center; gap: 4px; padding: 1px 4px 1px 6px; }
.grip { cursor: grab; color: var(--faded); display: flex; padding: 6px 2px; }
.title { flex: 1; min-width: 0; text-align: left; padding: 7px 4px; background: none; border: 0; font: 560 15px/20px var(--text); color: inherit; cursor: pointer; overflow-wrap: anywhere; }
.title .faded { font-weight: 400; font-size: 13px; margin-left: 4px; }
.tools { display: flex; flex: none; }
.tools :deep(.p-button) { padding: 5px; }
</style>

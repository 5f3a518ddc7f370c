<script setup lang="ts">
import { ArrowDown, ArrowUp } from 'lucide-vue-next'

/** Two buttons that move a row up or down by one. */
defineProps<{ /** The row's name, for who does not see where the buttons stand. */ called: string; first: boolean; last: boolean }>()
const emit = defineEmits<{ move: [by: -1 | 1] }>()
</script>

<template>
  <Button variant="text" size="small" severity="secondary" :disabled="first" :aria-label="`Move ${called} up`" @click="emit('move', -1)">
    <ArrowUp :size="14" aria-hidden="true" />
  </Button>
  <Button variant="text" size="small" severity="secondary" :disabled="last" :aria-label="`Move ${called} down`" @click="emit('move', 1)">
    <ArrowDown :size="14" aria-hidden="true" />
  </Button>
</template>

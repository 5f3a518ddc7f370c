<script setup lang="ts">
import { NodeViewWrapper, nodeViewProps } from '@tiptap/vue-3'
import { PLACES } from '~/editor/places'

/** A placeholder in a text: what will stand there, by its name. */
const props = defineProps(nodeViewProps)
const places = inject(PLACES)!
const known = computed(() => places.value.find(p => p.name === props.node.attrs.name))
const fallback = computed(() => String(props.node.attrs.fallback))
</script>

<template>
  <NodeViewWrapper as="span" class="chip" :class="{ strange: !known, chosen: selected }">
    {{ known?.label ?? node.attrs.name }}<span v-if="fallback" class="else">, else “{{ fallback }}”</span>
  </NodeViewWrapper>
</template>

<style scoped>
.chip { display: inline-block; padding: 0 7px; margin: 0 1px; border: 1px solid var(--spruce); border-radius: 3px; background: var(--wash); color: var(--ink); font-size: 13px; line-height: 19px; cursor: pointer; white-space: nowrap; }
.chosen { outline: 2px solid var(--spruce); outline-offset: 1px; }
.chip::selection, .chip :deep(*)::selection { background: transparent; color: inherit; }
.strange { border-color: var(--brick); background: transparent; color: var(--brick); }
.else { color: var(--faded); }
</style>

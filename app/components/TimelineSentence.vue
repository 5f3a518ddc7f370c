<script setup lang="ts">
import type { Sentence } from '#core/events/kind'

/** A sentence in its pieces; moments as the reader's clock has them. */
defineProps<{ sentence: Sentence }>()
</script>

<template>
  <template v-for="(piece, i) in sentence" :key="i">
    <template v-if="typeof piece === 'string'">{{ piece }}</template>
    <b v-else-if="'strong' in piece">{{ piece.strong }}</b>
    <span v-else-if="'faint' in piece" class="faded small">{{ piece.faint }}</span>
    <b v-else>{{ due(piece.moment) }}</b>
  </template>
</template>

<script setup lang="ts">
import type { PointDefinition } from '#core/points/definition'
import { inVariant, variantsOf } from '#core/points/variants'

/** The variants of a point side by side, each drawn as visitors see it and changed where it stands. */
const props = defineProps<{ definition: PointDefinition; editable: boolean; invites: boolean }>()
const emit = defineEmits<{ text: [key: string, path: string, text: string] }>()
const all = computed(() => variantsOf(props.definition).map(w => ({ key: w.key, definition: inVariant(props.definition, w.key) })))
</script>

<template>
  <div class="variants">
    <section v-for="w in all" :key="w.key" :aria-label="`Wording ${w.key.toUpperCase()}`">
      <h3>{{ w.key.toUpperCase() }}<span v-if="w.key === 'a'" class="faded small"> as it is</span></h3>
      <p v-if="invites" class="says small">
        <span class="faded">Invites with</span> {{ w.definition.display.invitation || w.definition.title }}
      </p>
      <div class="ground">
        <StoryboardFormFrame
          :definition="w.definition"
          frame="questions"
          :part="0"
          :editable="editable"
          role="group"
          :aria-label="`Wording ${w.key.toUpperCase()}`"
          @text="(path, text) => emit('text', w.key, path, text)"
        />
      </div>
    </section>
  </div>
</template>

<style scoped>
.variants { display: grid; grid-template-columns: repeat(auto-fit, minmax(270px, 1fr)); gap: 16px; align-items: start; }
.ground { padding: 14px; background: #e9e6dc; border: 1px solid var(--rule); max-height: 560px; overflow: auto; }
.ground > div { zoom: 0.78; }
.says { margin: 0 0 6px; overflow-wrap: anywhere; }
</style>

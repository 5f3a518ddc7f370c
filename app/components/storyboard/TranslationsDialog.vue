<script setup lang="ts">
import { directionOf, LANGUAGES, type Language } from '#core/languages/language'
import type { PointDefinition } from '#core/points/definition'
import { textsIn, translatable, translate } from '#core/points/translations'
import { placesFor, type TemplateOf } from '#core/points/mails'

/** All texts of a form beside what they are in another language. */
const definition = defineModel<PointDefinition>({ required: true })
const props = defineProps<{ language: Language; disabled: boolean }>()
const emit = defineEmits<{ close: [] }>()
/** Heavy, and only here. */
const TemplateField = defineAsyncComponent(() => import('~/components/template/TemplateField.vue'))
const texts = computed(() => textsIn(definition.value, props.language))
const rows = computed(() => translatable(definition.value))
const write = (path: string, text: string) => {
  definition.value = translate(definition.value, props.language, path, text)
}
const kindOf = (path: string): TemplateOf =>
  path.startsWith('confirm') ? 'confirm' : path.startsWith('reminder') ? 'reminder' : 'mail with goal'
const called = (row: { called: string; text: string }) => `${row.called}: ${row.text.replace(/\{\{[^}]*\}\}/g, '…').slice(0, 60)}`
</script>

<template>
  <Dialog
    :visible="true"
    modal
    :header="`In ${LANGUAGES[language]}`"
    :style="{ width: 'min(980px, 96vw)' }"
    @update:visible="emit('close')"
  >
    <ul>
      <li v-for="row in rows" :key="row.path">
        <div :lang="definition.language" :dir="directionOf(definition.language)">
          <p class="small faded">{{ row.called }}</p>
          <p class="text">{{ row.text }}</p>
        </div>
        <div :lang="language" :dir="directionOf(language)">
          <TemplateField
            v-if="row.template"
            :id="`t-${row.path}`"
            :kind="row.long ? 'text' : 'line'"
            :called="called(row)"
            :places="placesFor(definition, kindOf(row.path))"
            :most="row.long ? 4000 : 200"
            :disabled="disabled"
            :model-value="texts.get(row.path) ?? ''"
            @update:model-value="write(row.path, $event)"
          />
          <Textarea
            v-else
            :model-value="texts.get(row.path) ?? ''"
            :rows="row.long ? 2 : 1"
            auto-resize
            fluid
            maxlength="4000"
            :disabled="disabled"
            :aria-label="called(row)"
            @update:model-value="write(row.path, $event ?? '')"
          />
        </div>
      </li>
    </ul>
    <p class="small faded">What stays empty is shown as it is. Everything is kept as you write, and goes live with the form.</p>
  </Dialog>
</template>

<style scoped>
ul { margin: 0; padding: 0; list-style: none; }
li { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); gap: 6px 20px; padding: 10px 0; border-bottom: 1px solid var(--rule); align-items: start; }
p { margin: 0; }
.text { white-space: pre-wrap; overflow-wrap: anywhere; }
@media (max-width: 700px) { li { grid-template-columns: 1fr; } }
</style>

<script setup lang="ts">
import { Trash2 } from 'lucide-vue-next'
import { LANGUAGES, type Language } from '#core/languages/language'
import type { PointDefinition } from '#core/points/definition'
import { addLanguage, languagesOf, removeLanguage, untranslated } from '#core/points/translations'

/** The other languages of a form, and in which of them it is seen just now. */
const definition = defineModel<PointDefinition>({ required: true })
const seen = defineModel<Language | null>('seen', { required: true })
defineProps<{ disabled: boolean }>()
const writing = ref<Language | null>(null)
const others = computed(() =>
  languagesOf(definition.value)
    .slice(1)
    .map(key => ({ key, name: LANGUAGES[key], missing: untranslated(definition.value, key).length })),
)
const free = computed(() =>
  Object.entries(LANGUAGES)
    .filter(([key]) => !languagesOf(definition.value).includes(key as Language))
    .map(([key, name]) => ({ key: key as Language, name })),
)
function add(key: Language | null): void {
  if (!key) return
  definition.value = addLanguage(definition.value, key)
  writing.value = key
}
function remove(key: Language): void {
  if (seen.value === key) seen.value = null
  definition.value = removeLanguage(definition.value, key)
}
</script>

<template>
  <div class="others">
    <ul v-if="others.length" aria-label="Other languages">
      <li v-for="l in others" :key="l.key">
        <span>
          <b>{{ l.name }}</b>
          <br>
          <span class="small faded">{{ l.missing ? `${count(l.missing, 'text', 'texts')} not written yet` : 'All written' }}</span>
        </span>
        <span class="acts">
          <Button
            :label="seen === l.key ? 'Back' : 'See it'"
            size="small"
            variant="text"
            :aria-pressed="seen === l.key"
            :aria-label="`${seen === l.key ? 'Back from' : 'See it in'} ${l.name}`"
            @click="seen = seen === l.key ? null : l.key"
          />
          <Button label="Write" size="small" variant="outlined" :aria-label="`Write in ${l.name}`" @click="writing = l.key" />
          <Button
            v-if="!disabled"
            size="small"
            variant="text"
            severity="secondary"
            :aria-label="`Take ${l.name} out`"
            @click="remove(l.key)"
          >
            <Trash2 :size="15" aria-hidden="true" />
          </Button>
        </span>
      </li>
    </ul>
    <template v-if="!disabled && free.length">
      <label id="other-language">Also in</label>
      <Select
        :model-value="null"
        :options="free"
        option-label="name"
        option-value="key"
        size="small"
        placeholder="Add a language"
        aria-labelledby="other-language"
        @update:model-value="add"
      />
    </template>
    <p v-if="others.length" class="small faded">Visitors see the language of the page it stands on, else what their browser asks for, else
      {{ LANGUAGES[definition.language] }}. Answers and results are the same in all.</p>
    <StoryboardTranslationsDialog v-if="writing" v-model="definition" :language="writing" :disabled="disabled" @close="writing = null" />
  </div>
</template>

<style scoped>
.others { display: grid; gap: 4px; margin-bottom: 14px; padding-bottom: 12px; border-bottom: 1px solid var(--rule); }
ul { margin: 0; padding: 0; list-style: none; }
li { display: flex; justify-content: space-between; gap: 8px; align-items: center; padding: 6px 0; border-bottom: 1px solid var(--rule); }
.acts { display: flex; gap: 4px; align-items: center; }
label { font-size: 13px; color: var(--faded); }
.p-select { max-width: 16rem; }
p { margin: 4px 0 0; }
</style>

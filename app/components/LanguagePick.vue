<script setup lang="ts">
import { LANGUAGES, type Language } from '#core/languages/language'

/** In which language the texts of a form or page are; what is ours on it speaks it too. */
const language = defineModel<Language>({ required: true })
defineProps<{ disabled?: boolean }>()
const languages = Object.entries(LANGUAGES).map(([key, name]) => ({ key: key as Language, name }))
</script>

<template>
  <div class="language">
    <label id="language">Its texts are in</label>
    <Select
      v-model="language"
      :options="languages"
      option-label="name"
      option-value="key"
      size="small"
      :disabled="disabled"
      aria-labelledby="language"
    />
    <p class="small faded">Errors, buttons and mails’ endings that are ours speak it too.
      <NuxtLink to="/settings/words">Our words</NuxtLink>
    </p>
  </div>
</template>

<style scoped>
.language { display: grid; gap: 4px; margin-bottom: 14px; padding-bottom: 12px; border-bottom: 1px solid var(--rule); }
.language label { font-size: 13px; color: var(--faded); }
.language p { margin: 2px 0 0; }
.language .p-select { max-width: 16rem; }
</style>

<script setup lang="ts">
import { LANGUAGES, languageMarkup, type Language } from '#core/languages/language'
import { TEXTS, type OwnTexts, type TextKey } from '#core/languages/say'

/** What visitors read that is ours, in each language, and the house's own words in its place. */
useHead({ title: 'Words to visitors – Cavlin' })
const session = useSession()
const say = useToasts()
const { data: own, problem, refresh } = useLiveQuery(() => api<OwnTexts>('/api/team/texts'), { site: true })
const may = computed(() => session.may('edit site'))
const languages = Object.entries(LANGUAGES).map(([key, name]) => ({ key: key as Language, name }))
const language = ref<Language>('en')
const sought = ref('')
const flaws = ref<Record<string, string>>({})
const changedIn = (l: Language) => Object.keys(own.value?.[l] ?? {}).length
const rows = computed(() => {
  const like = sought.value.trim().toLowerCase()
  return (Object.keys(TEXTS.en) as TextKey[])
    .map(key => ({ key, english: TEXTS.en[key], ours: TEXTS[language.value][key], own: own.value?.[language.value]?.[key] ?? '' }))
    .filter(r => !like || [r.english, r.ours, r.own].some(text => text.toLowerCase().includes(like)))
})
watch(language, () => {
  flaws.value = {}
})
async function keep(key: TextKey, text: string): Promise<void> {
  const { [key]: _, ...others } = flaws.value
  flaws.value = others
  if (text.trim() === (own.value?.[language.value]?.[key] ?? '')) return
  try {
    await api('/api/team/texts', { method: 'PUT', body: { language: language.value, key, text } })
    await refresh()
    say.done(text.trim() ? 'Kept. Visitors read it within some seconds.' : 'Back to our words.')
  } catch (error) {
    if (error instanceof ApiError && error.flaws.length) flaws.value = { ...flaws.value, [key]: error.flaws[0]!.message }
    else say.failed(error)
  }
}
const direction = computed(() => Object.fromEntries([...languageMarkup(language.value).matchAll(/(\w+)="(\w+)"/g)].map(m => [m[1], m[2]])))
</script>

<template>
  <div class="words">
    <h1>Words to visitors</h1>
    <p class="faded">Errors, buttons, mails’ endings and the pages behind their links speak the language of the form or page they belong to.
      Where your house says it otherwise, write it here; what a form says in its own settings comes first.</p>
    <p v-if="problem" class="brick" role="alert">{{ problem.message }}</p>
    <div class="bar">
      <div role="group" aria-label="Language" class="languages">
        <button
          v-for="l in languages"
          :key="l.key"
          type="button"
          :lang="l.key"
          :aria-pressed="language === l.key"
          @click="language = l.key"
        >
          {{ l.name }}<span v-if="changedIn(l.key)" class="count" :aria-label="`, ${changedIn(l.key)} in your words`">
            {{ changedIn(l.key) }}
          </span>
        </button>
      </div>
      <InputText v-model="sought" type="search" placeholder="Find words" aria-label="Find words" />
    </div>
    <ul class="sheet">
      <li v-for="row in rows" :key="`${language}-${row.key}`">
        <div>
          <p v-bind="direction">{{ row.ours }}</p>
          <p v-if="language !== 'en'" class="small faded">{{ row.english }}</p>
        </div>
        <div>
          <Textarea
            :model-value="row.own"
            rows="1"
            auto-resize
            fluid
            maxlength="1000"
            placeholder="As ours"
            v-bind="direction"
            :disabled="!may"
            :invalid="Boolean(flaws[row.key])"
            :aria-label="`Your words for: ${row.english}`"
            :aria-describedby="`${row.key}-flaw`"
            @change="keep(row.key, ($event.target as HTMLTextAreaElement).value)"
          />
          <p :id="`${row.key}-flaw`" class="brick small" role="alert">{{ flaws[row.key] }}</p>
        </div>
      </li>
    </ul>
    <p v-if="!rows.length" class="faded">None of our words has “{{ sought }}” in it.</p>
    <p class="small faded">Words in braces stand for what only the moment knows, such as a name; plural forms are written as in ICU
      messages: <code v-pre>{n, plural, one {# file} other {# files}}</code>.</p>
  </div>
</template>

<style scoped>
.words { max-width: 1080px; }
.bar { display: flex; flex-wrap: wrap; gap: 10px 20px; justify-content: space-between; align-items: center; margin: 12px 0; }
.languages { display: flex; flex-wrap: wrap; gap: 2px 4px; }
.languages button { padding: 5px 10px; border: 0; border-bottom: 2px solid transparent; background: none; font: inherit; color: var(--ink); cursor: pointer; }
.languages button[aria-pressed='true'] { border-color: var(--spruce); color: var(--spruce); font-weight: 600; }
.count { margin-inline-start: 5px; font-size: 12px; color: var(--faded); }
ul { margin: 0; padding: 0 16px; list-style: none; }
li { display: grid; grid-template-columns: 1fr 1fr; gap: 6px 24px; padding: 10px 0; border-bottom: 1px solid var(--rule); align-items: start; }
li:last-child { border: 0; }
li p { margin: 0; overflow-wrap: anywhere; }
@media (max-width: 700px) { li { grid-template-columns: 1fr; } }
</style>

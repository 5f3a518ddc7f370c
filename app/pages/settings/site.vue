<script setup lang="ts">
import { LANGUAGES } from '#core/languages/language'
import type { SiteView } from '~/composables/site'

useHead({ title: 'The site – Cavlin' })
const session = useSession()
const say = useToasts()
const { data: kept, problem, refresh } = useSite()
const { data: styles } = useLiveQuery(() => api<{ id: string; name: string }[]>('/api/team/styles'), { styles: true })
const form = ref<SiteView | null>(null)
const languages = Object.entries(LANGUAGES).map(([key, name]) => ({ key, name }))
const lines = ref({ origins: '', parameters: '' })
const flaws = ref<Record<string, string>>({})
const saving = ref(false)
watch(
  kept,
  site => {
    if (!site || form.value) return
    form.value = { ...site }
    lines.value = { origins: site.origins.join('\n'), parameters: site.parameters.join(', ') }
  },
  { immediate: true },
)
const may = computed(() => session.may('edit site'))
const WAYS = [
  { key: 'site', name: 'The site asks', what: "Your own notice calls cavlin('agree') or cavlin('decline')." },
  { key: 'own', name: 'Cavlin asks', what: 'A small notice with two equal buttons, once on the first page of a visit.' },
  {
    key: 'not_needed',
    name: 'Nobody needs to be asked',
    what: 'Only where the law of your visitors’ country allows it. Browsers that say no are left alone all the same.',
  },
] as const
const words = (text: string) => [...new Set(text.split(/[\s,]+/).filter(Boolean))]
const origins = () => words(lines.value.origins).map(o => (URL.canParse(o) && /^https?:/.test(o) ? new URL(o).origin : o))
const tag = `<script async src="${window.location.origin}/w/cavlin.js"><` + '/script>'

function setMonths(text: string | undefined): void {
  if (form.value) form.value.retentionMonths = Number(text) || 0
}
async function save(): Promise<void> {
  saving.value = true
  flaws.value = {}
  try {
    await api('/api/team/site', {
      method: 'PUT',
      body: { ...form.value, origins: [...new Set(origins())], parameters: words(lines.value.parameters) },
    })
    await refresh()
    say.done('Kept. Visitors get it within a quarter of a minute.')
  } catch (error) {
    if (error instanceof ApiError) for (const f of error.flaws) flaws.value[f.field.split('.')[0]!] = f.message
    say.failed(error)
  } finally {
    saving.value = false
  }
}
</script>

<template>
  <div class="page">
    <h1>The site</h1>
    <p class="faded">Put this tag on every page, in its head. It records what visitors do who agreed, and lets points appear.</p>
    <pre tabindex="0">{{ tag }}</pre>
    <p v-if="problem && !kept" role="alert" class="brick">{{ problem.message }}</p>
    <form v-if="form" @submit.prevent="save">
      <fieldset :disabled="!may">
        <legend><h2>Agreement</h2></legend>
        <p class="faded">Before somebody agrees, nothing is sent, and nothing is kept in their browser but the quiz that they are in the
          middle of, in its own tab.</p>
        <label v-for="w in WAYS" :key="w.key" class="way">
          <input v-model="form.agreement" type="radio" name="agreement" :value="w.key">
          <span><b>{{ w.name }}</b><br><span class="faded small">{{ w.what }}</span></span>
        </label>
        <template v-if="form.agreement === 'own'">
          <label id="notice-language">Its language</label>
          <Select
            v-model="form.language"
            :options="languages"
            option-label="name"
            option-value="key"
            :disabled="!may"
            aria-labelledby="notice-language"
          />
          <label for="notice">What it asks</label>
          <Textarea
            id="notice"
            v-model="form.notice"
            rows="2"
            auto-resize
            fluid
            maxlength="600"
            :invalid="Boolean(flaws.notice)"
            aria-describedby="notice-flaw"
            placeholder="May we remember which pages you read?"
          />
          <template v-if="styles?.length">
            <label for="notice-style">In which house style</label>
            <Select
              v-model="form.style"
              input-id="notice-style"
              :options="styles"
              option-label="name"
              option-value="id"
              show-clear
              placeholder="none"
              :disabled="!may"
              aria-label="In which house style"
            />
          </template>
          <p id="notice-flaw" class="brick small">{{ flaws.notice }}</p>
        </template>
        <h2>What is recorded</h2>
        <label for="site-origins">Sites whose visitors are followed, one a line; empty: any</label>
        <Textarea
          id="site-origins"
          v-model="lines.origins"
          rows="2"
          auto-resize
          fluid
          :invalid="Boolean(flaws.origins)"
          aria-describedby="origins-flaw"
          placeholder="https://firm.example"
        />
        <p id="origins-flaw" class="brick small">{{ flaws.origins }}</p>
        <label for="site-parameters">Parameters of addresses that are kept</label>
        <InputText
          id="site-parameters"
          v-model="lines.parameters"
          fluid
          maxlength="2000"
          :invalid="Boolean(flaws.parameters)"
          aria-describedby="parameters-flaw"
          placeholder="product, size"
        />
        <p id="parameters-flaw" class="brick small">{{ flaws.parameters }}</p>
        <p class="faded small">Everything else behind the question mark of an address stays in the browser: it may be a secret. Where
          somebody came from (utm_…) is always kept.</p>
        <label class="way">
          <Checkbox
            :model-value="form!.keepUnfinished"
            binary
            input-id="keep-unfinished"
            :disabled="!may"
            @update:model-value="form!.keepUnfinished = $event"
          />
          <span>
            <b>Keep what people type and do not send</b>
            <br>
            <span class="faded small">Of those who agreed: in your forms, and in fields of the site’s own that carry
              <code>data-cavlin-keep</code>. Passwords, payment fields and private properties are never kept.</span>
          </span>
        </label>
        <label class="way">
          <Checkbox
            :model-value="form!.mailUnfinished"
            binary
            input-id="mail-unfinished"
            :disabled="!may || !form!.keepUnfinished"
            @update:model-value="form!.mailUnfinished = $event"
          />
          <span>
            <b>Write to people who began and did not send</b>
            <br>
            <span class="faded small">Once, where a form has a reminder, and only to those who ticked that mails are welcome, there or
              before.</span>
          </span>
        </label>
        <label for="retention">Months that trails are kept</label>
        <InputText
          id="retention"
          :model-value="String(form!.retentionMonths)"
          inputmode="numeric"
          class="n"
          maxlength="3"
          :invalid="Boolean(flaws.retentionMonths)"
          aria-describedby="retention-flaw"
          @update:model-value="setMonths($event)"
        />
        <p id="retention-flaw" class="brick small">{{ flaws.retentionMonths }}</p>
        <p class="faded small">Older months leave as a whole. Scores and figures that were worked out from them stay.</p>
        <div><Button v-if="may" type="submit" label="Keep it" :loading="saving" /></div>
      </fieldset>
    </form>
    <SiteHosts :may="may" />
  </div>
</template>

<style scoped>
.page { max-width: 720px; margin: 0 auto; display: grid; gap: 12px; }
fieldset { border: 0; margin: 0; padding: 0; display: grid; gap: 6px; min-width: 0; }
legend { padding: 0; }
h2:not(legend h2) { margin-top: 16px; }
.way { display: flex; gap: 10px; align-items: flex-start; padding: 6px 0; cursor: pointer; }
.way input { width: 18px; height: 18px; margin: 2px 0; accent-color: var(--spruce); flex: none; }
label:not(.way) { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 8px; }
pre { overflow: auto; white-space: pre-wrap; overflow-wrap: anywhere; background: var(--sheet); border: 1px solid var(--rule); padding: 10px 12px; margin: 0; font-size: 13px; }
.n { width: 90px; }
</style>

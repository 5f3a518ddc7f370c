<script setup lang="ts">
import { BUILT_IN, KIND_NAMES, PROPERTY_KINDS, type Property, type Sensitivity } from '#core/properties/kinds'

useHead({ title: 'Properties – Cavlin' })
const session = useSession()
const house = useHouse()
const say = useToasts()
const { data: use, refresh } = useLiveQuery(
  () => api<{ key: string; leads: number; points: string[] }[]>('/api/team/properties'),
  { properties: true, points: true },
  2000,
)
const mayEdit = computed(() => session.may('edit properties'))

const open = ref(false)
const edited = ref<Property | null>(null)
const draft = reactive({
  label: '',
  kind: 'short_text' as Property['kind'],
  sensitivity: 'ordinary' as Sensitivity,
  choices: [] as Property['choices'],
})
const flaw = ref('')
const saving = ref(false)
const kinds = PROPERTY_KINDS.map(key => ({ key, name: KIND_NAMES[key] }))
const SENSITIVE: { key: Sensitivity; name: string }[] = [
  { key: 'ordinary', name: 'Ordinary' },
  { key: 'private', name: 'Private: people ask why' },
  { key: 'sensitive', name: 'Sensitive: health, beliefs, money troubles' },
]
const rows = computed(() =>
  (house.words?.properties ?? []).map(p => ({ ...p, ...(use.value?.find(u => u.key === p.key) ?? { leads: null, points: [] }) })),
)

function begin(property: Property | null): void {
  edited.value = property
  Object.assign(draft, {
    label: property?.label ?? '',
    kind: property?.kind ?? 'short_text',
    sensitivity: property?.sensitivity ?? 'ordinary',
    choices: (property?.choices ?? []).map(c => ({ ...c })),
  })
  flaw.value = ''
  open.value = true
}
async function save(): Promise<void> {
  saving.value = true
  try {
    const { label, kind, sensitivity, choices } = draft
    if (edited.value) await api(`/api/team/properties/${edited.value.key}`, { method: 'PUT', body: { label, sensitivity, choices } })
    else await api('/api/team/properties', { method: 'POST', body: { label, kind, sensitivity, choices } })
    await Promise.all([house.load(), refresh()])
    open.value = false
  } catch (error) {
    flaw.value = (error as Error).message
  } finally {
    saving.value = false
  }
}
async function retire(p: Property, retired: boolean): Promise<void> {
  try {
    await api(`/api/team/properties/${p.key}`, {
      method: 'PUT',
      body: { label: p.label, sensitivity: p.sensitivity, choices: p.choices, retired },
    })
    await house.load()
    if (retired) say.done(`${p.label} is retired. What is known of people stays.`, () => retire(p, false))
  } catch (error) {
    say.failed(error)
  }
}
const builtIn = (key: string) => (BUILT_IN as readonly string[]).includes(key)
</script>

<template>
  <div class="page">
    <StageViews :views="CAPTURE_VIEWS" called="Capture" />
    <div class="head">
      <h1>Properties</h1>
      <span class="faded">What can be known of a lead</span>
      <Button v-if="mayEdit" label="New property" class="new" @click="begin(null)" />
    </div>
    <div class="sheet scroll" role="region" aria-label="Properties" tabindex="0">
      <table class="figures">
        <thead>
          <tr>
            <th>Property</th>
            <th>Kind</th>
            <th>How freely it is told</th>
            <th class="n">Known of</th>
            <th>Asked by</th>
            <th><span class="unseen">What to do</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in rows" :key="p.key" :class="{ retired: p.retired }">
            <td><b>{{ p.label }}</b><br><code class="faded small">{{ p.key }}</code></td>
            <td>
              {{ KIND_NAMES[p.kind] }}<br v-if="p.choices.length">
              <span v-if="p.choices.length" class="faded small">{{ p.choices.map(c => c.text).join(', ') }}</span>
            </td>
            <td>{{ { ordinary: 'Ordinary', private: 'Private', sensitive: 'Sensitive' }[p.sensitivity] }}</td>
            <td class="n">{{ p.leads ?? '' }}</td>
            <td class="small">{{ p.points.join(', ') || (p.retired ? 'retired' : 'no form') }}</td>
            <td class="do">
              <template v-if="mayEdit">
                <Button label="Change" :aria-label="`Change ${p.label}`" variant="text" size="small" @click="begin(p)" />
                <Button
                  v-if="!builtIn(p.key)"
                  :label="p.retired ? 'Take back' : 'Retire'"
                  :aria-label="`${p.retired ? 'Take back' : 'Retire'} ${p.label}`"
                  variant="text"
                  size="small"
                  severity="secondary"
                  @click="retire(p, !p.retired)"
                />
              </template>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <Dialog v-model:visible="open" modal :header="edited ? edited.label : 'New property'" :style="{ width: 'min(540px, 94vw)' }">
      <form class="make" @submit.prevent="save">
        <label for="property-label">Name</label>
        <InputText id="property-label" v-model="draft.label" autofocus fluid maxlength="80" />
        <label for="property-kind">Kind</label>
        <Select
          v-if="!edited"
          v-model="draft.kind"
          input-id="property-kind"
          :options="kinds"
          option-label="name"
          option-value="key"
          fluid
          aria-label="Kind"
        />
        <p v-else id="property-kind">
          {{ KIND_NAMES[edited.kind] }} <span class="faded small">The kind stays, so that what is known keeps its meaning.</span>
        </p>
        <label for="property-sensitivity">How freely people tell it</label>
        <Select
          v-model="draft.sensitivity"
          input-id="property-sensitivity"
          :options="SENSITIVE"
          option-label="name"
          option-value="key"
          fluid
          aria-label="How freely people tell it"
        />
        <template v-if="draft.kind === 'one_of' || draft.kind === 'some_of'">
          <span class="label">Choices that a new question begins with</span>
          <StoryboardChoiceList
            id="property-choice"
            v-model="draft.choices"
            :disabled="false"
            :kept-values="edited?.choices.map(c => c.value) ?? []"
          />
        </template>
        <p class="brick" role="alert">{{ flaw }}</p>
        <Button type="submit" :label="edited ? 'Keep it' : 'Make it'" :disabled="!draft.label.trim()" :loading="saving" />
      </form>
    </Dialog>
  </div>
</template>

<style scoped>
.new { margin-left: auto; }
th, td { padding: 8px 14px; border-bottom: 1px solid var(--rule); vertical-align: top; }
tr:last-child td { border-bottom: 0; }
.retired td { color: var(--faded); }
.do { text-align: right; white-space: nowrap; }
.make { display: grid; gap: 4px; }
.make label, .label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 8px; }
.make > .p-button { justify-self: start; margin-top: 8px; }
</style>

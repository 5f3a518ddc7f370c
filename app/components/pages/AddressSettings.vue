<script setup lang="ts">
import type { PageDefinition, Picture } from '#core/pages/definition'
import { slugify } from '#core/text'

/** Where a page is to be found, and what is shown of it elsewhere. */
const page = defineModel<PageDefinition>({ required: true })
const props = defineProps<{ id: string; slug: string; disabled: boolean }>()
const say = useToasts()
const set = (change: Partial<PageDefinition>) => { page.value = { ...page.value, ...change } }
const slug = ref(props.slug)
const flaw = ref('')
watch(() => props.slug, (next) => { slug.value = next })
async function keep(): Promise<void> {
  const wished = slugify(slug.value, 80)
  if (!wished || wished === props.slug) return void (slug.value = props.slug)
  flaw.value = ''
  const before = props.slug
  try {
    await api(`/api/team/points/${props.id}/slug`, { method: 'PUT', body: { slug: wished } })
    say.done(`It stands at /p/${wished} now; the old address leads there.`, () => api(`/api/team/points/${props.id}/slug`, { method: 'PUT', body: { slug: before } }))
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
const origin = window.location.origin
</script>

<template>
  <fieldset class="address" :disabled="disabled">
    <legend><h2>Where it is found</h2></legend>
    <label for="slug">Address</label>
    <form class="slug" @submit.prevent="keep"><span class="faded">{{ origin }}/p/</span><InputText id="slug" v-model="slug" maxlength="80" spellcheck="false" fluid /><Button type="submit" label="Change" size="small" variant="outlined" :disabled="slug === props.slug" /></form>
    <p v-if="flaw" class="brick small" role="alert">{{ flaw }}</p>
    <label for="title">Title, in the browser and in search</label>
    <InputText id="title" :model-value="page.title" fluid maxlength="300" @update:model-value="set({ title: $event ?? '' })" />
    <label for="description">Description, in search and shared links</label>
    <Textarea id="description" :model-value="page.description" rows="2" auto-resize fluid maxlength="300" @update:model-value="set({ description: $event ?? '' })" />
    <span class="label">Picture of shared links</span>
    <FilePick :chosen="page.share?.file ?? null" picture :disabled="disabled" called="Picture of shared links" @choose="set({ share: { file: { id: $event.id, name: $event.name }, width: $event.width!, height: $event.height!, alt: page.share?.alt ?? '' } satisfies Picture })" @clear="set({ share: null })" />
    <template v-if="page.share"><label for="share-alt">What it shows</label><InputText id="share-alt" :model-value="page.share.alt" fluid maxlength="300" @update:model-value="set({ share: { ...page.share!, alt: $event ?? '' } })" /></template>
  </fieldset>
</template>

<style scoped>
.address { margin: 0; padding: 0; border: 0; display: grid; gap: 4px; min-width: 0; }
legend { padding: 0; }
label, .label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 8px; }
.slug { display: flex; flex-wrap: wrap; gap: 6px; align-items: center; font-size: 14px; }
.slug > span { width: 100%; }
.slug .p-inputtext { flex: 1; min-width: 0; }
.slug .p-button { flex: none; }
</style>

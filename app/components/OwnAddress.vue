<script setup lang="ts">
import { slugify } from '#core/text'

/** The address that a form or page has with us, to be changed; the one before goes on leading there. */
const props = defineProps<{ id: string; slug: string; disabled: boolean }>()
const say = useToasts()
const slug = ref(props.slug)
const flaw = ref('')
watch(() => props.slug, (next) => { slug.value = next })
const put = (wished: string) => api(`/api/team/points/${props.id}/slug`, { method: 'PUT', body: { slug: wished } })
async function keep(): Promise<void> {
  const wished = slugify(slug.value, 80)
  const before = props.slug
  flaw.value = ''
  if (!wished && slug.value.trim()) return void (flaw.value = 'An address has letters or digits. Write some.')
  if (!wished || wished === before) return void (slug.value = before)
  try {
    await put(wished)
    say.done(`It stands at /p/${wished} now; the old address leads there.`, () => put(before), () => props.slug === wished)
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
const origin = window.location.origin
</script>

<template>
  <div>
    <label for="slug">Address</label>
    <form class="slug" @submit.prevent="keep"><span class="faded">{{ origin }}/p/</span><InputText id="slug" v-model="slug" maxlength="80" spellcheck="false" fluid :disabled="disabled" /><Button type="submit" label="Change" size="small" variant="outlined" :disabled="disabled || slug === props.slug" /></form>
    <p v-if="flaw" class="brick small" role="alert">{{ flaw }}</p>
  </div>
</template>

<style scoped>
label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 8px; }
.slug { display: flex; flex-wrap: wrap; gap: 6px; align-items: center; font-size: 14px; }
.slug > span { width: 100%; }
.slug .p-inputtext { flex: 1; min-width: 0; }
.slug .p-button { flex: none; }
</style>

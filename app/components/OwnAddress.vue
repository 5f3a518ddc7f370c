<script setup lang="ts">
import { slugify } from '#core/text'

/** The address that a form or page has with us, to be changed; the one before goes on leading there. */
const props = defineProps<{ id: string; slug: string; host: string | null; disabled: boolean }>()
const say = useToasts()
const slug = ref(props.slug)
const flaw = ref('')
const { data: hosts } = useHosts()
watch(
  () => props.slug,
  next => {
    slug.value = next
  },
)
const put = (wished: string) => api(`/api/team/points/${props.id}/slug`, { method: 'PUT', body: { slug: wished } })
async function keep(): Promise<void> {
  const wished = slugify(slug.value, 80)
  const before = props.slug
  flaw.value = ''
  if (!wished && slug.value.trim()) return void (flaw.value = 'An address has letters or digits. Write some.')
  if (!wished || wished === before) return void (slug.value = before)
  try {
    await put(wished)
    say.done(
      `It stands at /p/${wished} now; the old address leads there.`,
      () => put(before),
      () => props.slug === wished,
    )
  } catch (error) {
    flaw.value = (error as Error).message
  }
}

const own = window.location.host
/** No name has a sign like this. */
const OWN = '/'
const names = computed(() => [{ name: `${own}, Cavlin’s own`, key: OWN }, ...(hosts.value ?? []).map(h => ({ name: h.name, key: h.name }))])
const move = (host: string | null) => api(`/api/team/points/${props.id}/host`, { method: 'PUT', body: { host } })
async function under(host: string | null): Promise<void> {
  const before = props.host
  flaw.value = ''
  try {
    await move(host)
    say.done(
      `It stands under ${host ?? own} now.`,
      () => move(before),
      () => props.host === host,
    )
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
const chosen = computed(() => hosts.value?.find(h => h.name === props.host))
const base = computed(() => standingAt(props.host, hosts.value))
</script>

<template>
  <div>
    <template v-if="hosts?.length">
      <label id="own-host">Under which name</label>
      <Select
        :model-value="host ?? OWN"
        :options="names"
        option-label="name"
        option-value="key"
        fluid
        :disabled="disabled"
        aria-labelledby="own-host"
        @update:model-value="under($event === OWN ? null : $event)"
      />
      <p v-if="chosen && !chosen.arrivedAt" class="untried small">
        Nobody has come under this name yet. Until somebody does, it stands at Cavlin’s own
        address. <a :href="chosen.tryAt" target="_blank" rel="noopener">Try it</a>
      </p>
    </template>
    <label for="slug">Address</label>
    <form class="slug" @submit.prevent="keep">
      <span class="faded">{{ base }}/p/</span>
      <InputText id="slug" v-model="slug" maxlength="80" spellcheck="false" fluid :disabled="disabled" />
      <Button type="submit" label="Change" size="small" variant="outlined" :disabled="disabled || slug === props.slug" />
    </form>
    <p v-if="flaw" class="brick small" role="alert">{{ flaw }}</p>
  </div>
</template>

<style scoped>
label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 8px; display: block; }
.untried { padding-left: 10px; border-left: 3px solid var(--brick); margin: 6px 0; }
.slug { display: flex; flex-wrap: wrap; gap: 6px; align-items: center; font-size: 14px; }
.slug > span { width: 100%; }
.slug .p-inputtext { flex: 1; min-width: 0; }
.slug .p-button { flex: none; }
</style>

<script setup lang="ts">
/** Links for one lead: a form in which what we know of them stands already. */
const props = defineProps<{ lead: string; name: string }>()
const say = useToasts()
const open = ref(false)
const links = ref<{ id: string; name: string; title: string; url: string }[] | null>(null)
const flaw = ref('')

async function show(): Promise<void> {
  open.value = true
  links.value = null
  flaw.value = ''
  try {
    links.value = await api(`/api/team/leads/${props.lead}/links`)
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
async function copy(link: { name: string; url: string }): Promise<void> {
  try {
    await navigator.clipboard.writeText(link.url)
    open.value = false
    say.done(`Copied: ${link.name}, for ${props.name}.`)
  } catch {
    flaw.value = `The browser does not let us copy. Mark this and copy it by hand: ${link.url}`
  }
}
</script>

<template>
  <Button label="Personal link" variant="text" size="small" @click="show" />
  <Dialog v-model:visible="open" modal :header="`A link for ${name}`" :style="{ width: 'min(560px, 94vw)' }">
    <div class="links">
      <p class="faded">The form opens with what we know of them in it, except what is sensitive. Send it to them alone: whoever has it sees
        that, too.</p>
      <p v-if="flaw" class="brick" role="alert">{{ flaw }}</p>
      <p v-else-if="links && !links.length" class="faded">No form is live yet.</p>
      <ul v-else-if="links">
        <li v-for="link in links" :key="link.id">
          <span><b>{{ link.name }}</b><br><span class="faded small">“{{ link.title }}”</span></span>
          <Button label="Copy" size="small" variant="outlined" :aria-label="`Copy the link to ${link.name}`" @click="copy(link)" />
        </li>
      </ul>
      <p v-else class="faded">Fetching …</p>
    </div>
  </Dialog>
</template>

<style scoped>
.links { display: grid; gap: 10px; overflow-wrap: anywhere; }
ul { list-style: none; margin: 0; padding: 0; }
li { display: flex; gap: 12px; align-items: center; justify-content: space-between; padding: 8px 0; border-top: 1px solid var(--rule); }
</style>

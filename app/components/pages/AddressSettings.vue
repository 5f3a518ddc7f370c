<script setup lang="ts">
import type { PageDefinition, Picture } from '#core/pages/definition'

/** Where a page is to be found, and what is shown of it elsewhere. */
const page = defineModel<PageDefinition>({ required: true })
defineProps<{ id: string; slug: string; host: string | null; disabled: boolean }>()
const set = (change: Partial<PageDefinition>) => {
  page.value = { ...page.value, ...change }
}
</script>

<template>
  <fieldset class="address" :disabled="disabled">
    <legend><h2>Where it is found</h2></legend>
    <OwnAddress :id="id" :slug="slug" :host="host" :disabled="disabled" />
    <label for="title">Title, in the browser and in search</label>
    <InputText id="title" :model-value="page.title" fluid maxlength="300" @update:model-value="set({ title: $event ?? '' })" />
    <label for="description">Description, in search and shared links</label>
    <Textarea
      id="description"
      :model-value="page.description"
      rows="2"
      auto-resize
      fluid
      maxlength="300"
      @update:model-value="set({ description: $event ?? '' })"
    />
    <span class="label">Picture of shared links</span>
    <FilePick
      :chosen="page.share?.file ?? null"
      picture
      :disabled="disabled"
      called="Picture of shared links"
      @choose="set({ share: { file: { id: $event.id, name: $event.name }, width: $event.width!, height: $event.height!, alt: page.share?.alt ?? '' } satisfies Picture })"
      @clear="set({ share: null })"
    />
    <template v-if="page.share">
      <label for="share-alt">What it shows</label>
      <InputText
        id="share-alt"
        :model-value="page.share.alt"
        fluid
        maxlength="300"
        @update:model-value="set({ share: { ...page.share!, alt: $event ?? '' } })"
      />
    </template>
  </fieldset>
</template>

<style scoped>
.address { margin: 0; padding: 0; border: 0; display: grid; gap: 4px; min-width: 0; }
legend { padding: 0; }
label, .label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 8px; }
</style>

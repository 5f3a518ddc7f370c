<script setup lang="ts">
import { Trash2 } from 'lucide-vue-next'
import { freshBlockKey, PAGE_LIMITS, type Block, type BlockOf, type Picture } from '#core/pages/definition'

/** Everything that can be decided about one block. */
const block = defineModel<Block>({ required: true })
const props = defineProps<{ disabled: boolean; points: { key: string; name: string; live: boolean; id: string }[] }>()
const id = computed(() => `b-${block.value.key}`)
const set = (change: object) => {
  block.value = { ...block.value, ...change } as Block
}
type Listed = BlockOf<'benefits'> | BlockOf<'answers'>
const tall = (typed: string) => Math.min(PAGE_LIMITS.tall, Math.max(0, Math.round(Number(typed)) || 0))
const setItem = (i: number, change: object) =>
  set({ items: (block.value as Listed).items.map((item, n) => (n === i ? { ...item, ...change } : item)) })
function addItem(): void {
  const { items, kind } = block.value as Listed
  set({
    items: [
      ...items,
      {
        key: freshBlockKey(
          'i',
          items.map(i => i.key),
        ),
        ...(kind === 'benefits' ? { title: '', text: '' } : { question: '', answer: '' }),
      },
    ],
  })
}
const takeItem = (i: number) => set({ items: (block.value as Listed).items.filter((_, n) => n !== i) })
const footer = computed(() => block.value as BlockOf<'footer'>)
const setLink = (i: number, change: object) => set({ links: footer.value.links.map((l, n) => (n === i ? { ...l, ...change } : l)) })
const picture = computed(() => (block.value as BlockOf<'picture'>).picture)
const choices = computed(() => props.points.map(p => ({ key: p.key, name: p.live ? p.name : `${p.name} (not live)` })))
const point = computed(() => props.points.find(p => p.key === (block.value as BlockOf<'point'>).point))
</script>

<template>
  <fieldset class="settings" :disabled="disabled">
    <legend class="unseen">Settings of this block</legend>
    <template v-if="block.kind === 'heading'">
      <label :for="`${id}-text`">Heading</label>
      <Textarea
        :id="`${id}-text`"
        :model-value="block.text"
        rows="1"
        auto-resize
        fluid
        :maxlength="PAGE_LIMITS.line"
        @update:model-value="set({ text: ($event ?? '').replace(/\n/g, ' ') })"
      />
      <label :for="`${id}-under`">A line under it</label>
      <Textarea
        :id="`${id}-under`"
        :model-value="block.under"
        rows="1"
        auto-resize
        fluid
        :maxlength="PAGE_LIMITS.line"
        @update:model-value="set({ under: ($event ?? '').replace(/\n/g, ' ') })"
      />
    </template>
    <template v-else-if="block.kind === 'text'">
      <label :for="`${id}-text`">Text</label>
      <Textarea
        :id="`${id}-text`"
        :model-value="block.text"
        rows="6"
        auto-resize
        fluid
        :maxlength="PAGE_LIMITS.text"
        @update:model-value="set({ text: $event ?? '' })"
      />
      <p class="faded small">An empty line begins a paragraph. **bold**, *italic*, - lists, [words](https://…) for links.</p>
    </template>
    <template v-else-if="block.kind === 'picture'">
      <FilePick
        :chosen="block.picture?.file ?? null"
        picture
        :disabled="disabled"
        called="Picture"
        @choose="set({ picture: { file: { id: $event.id, name: $event.name }, width: $event.width!, height: $event.height!, alt: picture?.alt ?? '' } satisfies Picture })"
        @clear="set({ picture: null })"
      />
      <template v-if="block.picture">
        <label :for="`${id}-alt`">What it shows, for who cannot see it</label>
        <InputText
          :id="`${id}-alt`"
          :model-value="block.picture.alt"
          fluid
          maxlength="300"
          @update:model-value="set({ picture: { ...picture!, alt: $event ?? '' } })"
        />
      </template>
      <label :for="`${id}-caption`">Caption</label>
      <InputText
        :id="`${id}-caption`"
        :model-value="block.caption"
        fluid
        maxlength="300"
        @update:model-value="set({ caption: $event ?? '' })"
      />
      <label class="tick">
        <Checkbox
          :model-value="block.wide"
          binary
          :input-id="`${id}-wide`"
          :disabled="disabled"
          @update:model-value="set({ wide: $event })"
        />
        Wider than the text</label>
    </template>
    <template v-else-if="block.kind === 'snippet'">
      <label :for="`${id}-title`">What it shows, for who cannot see it</label>
      <InputText
        :id="`${id}-title`"
        :model-value="block.title"
        fluid
        :maxlength="PAGE_LIMITS.line"
        placeholder="Map with the way to us"
        @update:model-value="set({ title: $event ?? '' })"
      />
      <label :for="`${id}-html`">HTML</label>
      <Textarea
        :id="`${id}-html`"
        :model-value="block.html"
        rows="8"
        fluid
        :maxlength="PAGE_LIMITS.snippet"
        class="code"
        spellcheck="false"
        @update:model-value="set({ html: $event ?? '' })"
      />
      <p class="faded small">A banner, a map, a counting pixel, a form of somebody else. It runs in a frame of its own and reaches nothing
        of this page; here it is only named, see it live once it is.</p>
      <label class="tick">
        <Checkbox
          :model-value="block.agreed"
          binary
          :input-id="`${id}-agreed`"
          :disabled="disabled"
          @update:model-value="set({ agreed: $event })"
        />
        Only for visitors who agreed that their visits are counted</label>
      <label :for="`${id}-height`">Room it keeps until it says how tall it is, in pixels</label>
      <InputText
        :id="`${id}-height`"
        :model-value="String(block.height)"
        inputmode="numeric"
        maxlength="4"
        class="short"
        @change="set({ height: tall(($event.target as HTMLInputElement).value) })"
      />
    </template>
    <template v-else-if="block.kind === 'quote'">
      <label :for="`${id}-text`">Quote</label>
      <Textarea
        :id="`${id}-text`"
        :model-value="block.text"
        rows="3"
        auto-resize
        fluid
        :maxlength="PAGE_LIMITS.text"
        @update:model-value="set({ text: $event ?? '' })"
      />
      <label :for="`${id}-who`">Who said it</label>
      <InputText :id="`${id}-who`" :model-value="block.who" fluid maxlength="300" @update:model-value="set({ who: $event ?? '' })" />
    </template>
    <template v-else-if="block.kind === 'benefits' || block.kind === 'answers'">
      <label :for="`${id}-title`">Title <span>(may stay empty)</span></label>
      <InputText :id="`${id}-title`" :model-value="block.title" fluid maxlength="300" @update:model-value="set({ title: $event ?? '' })" />
      <div v-for="(item, i) in block.items" :key="item.key" class="item">
        <template v-if="'question' in item">
          <InputText
            :model-value="item.question"
            fluid
            maxlength="300"
            :aria-label="`Question ${i + 1}`"
            placeholder="Question"
            @update:model-value="setItem(i, { question: $event ?? '' })"
          />
          <Textarea
            :model-value="item.answer"
            rows="1"
            auto-resize
            fluid
            :maxlength="PAGE_LIMITS.text"
            :aria-label="`Answer ${i + 1}`"
            placeholder="Answer"
            @update:model-value="setItem(i, { answer: $event ?? '' })"
          />
        </template>
        <template v-else>
          <InputText
            :model-value="item.title"
            fluid
            maxlength="300"
            :aria-label="`Benefit ${i + 1}`"
            placeholder="In three words"
            @update:model-value="setItem(i, { title: $event ?? '' })"
          />
          <Textarea
            :model-value="item.text"
            rows="1"
            auto-resize
            fluid
            :maxlength="PAGE_LIMITS.text"
            :aria-label="`More about benefit ${i + 1}`"
            placeholder="In one sentence"
            @update:model-value="setItem(i, { text: $event ?? '' })"
          />
        </template>
        <Button
          v-if="!disabled"
          variant="text"
          size="small"
          severity="secondary"
          :aria-label="`Take number ${i + 1} out`"
          @click="takeItem(i)"
        >
          <Trash2 :size="14" aria-hidden="true" />
        </Button>
      </div>
      <Button
        v-if="!disabled && block.items.length < PAGE_LIMITS.items"
        label="Add one"
        size="small"
        variant="outlined"
        class="add"
        @click="addItem"
      />
    </template>
    <template v-else-if="block.kind === 'point'">
      <label :for="`${id}-point`">Form</label>
      <Select
        :input-id="`${id}-point`"
        :model-value="block.point"
        :options="choices"
        option-label="name"
        option-value="key"
        fluid
        :disabled="disabled"
        placeholder="Choose a form"
        aria-label="Form"
        @update:model-value="set({ point: $event })"
      />
      <p class="faded small">It takes over the look of this page.
        <NuxtLink v-if="point" :to="`/capture/points/${point.id}`">Change the form itself</NuxtLink>
      </p>
    </template>
    <template v-else>
      <label :for="`${id}-text`">Text</label>
      <Textarea
        :id="`${id}-text`"
        :model-value="block.text"
        rows="2"
        auto-resize
        fluid
        :maxlength="PAGE_LIMITS.text"
        @update:model-value="set({ text: $event ?? '' })"
      />
      <div v-for="(link, i) in footer.links" :key="link.key" class="item link">
        <InputText
          :model-value="link.text"
          fluid
          maxlength="300"
          :aria-label="`Words of link ${i + 1}`"
          placeholder="Words"
          @update:model-value="setLink(i, { text: $event ?? '' })"
        />
        <InputText
          :model-value="link.address"
          fluid
          maxlength="2000"
          :aria-label="`Address of link ${i + 1}`"
          placeholder="Where it leads"
          @update:model-value="setLink(i, { address: $event ?? '' })"
        />
        <Button
          v-if="!disabled"
          variant="text"
          size="small"
          severity="secondary"
          :aria-label="`Take link ${i + 1} out`"
          @click="set({ links: footer.links.filter((_, n) => n !== i) })"
        >
          <Trash2 :size="14" aria-hidden="true" />
        </Button>
      </div>
      <Button
        v-if="!disabled && footer.links.length < 12"
        label="Add a link"
        size="small"
        variant="outlined"
        class="add"
        @click="set({ links: [...footer.links, { key: freshBlockKey('l', footer.links.map(l => l.key)), text: '', address: 'https://' }] })"
      />
    </template>
  </fieldset>
</template>

<style scoped>
.code { font: 13px/19px ui-monospace, monospace; }
.short { width: 6rem; }
.settings { margin: 0; padding: 2px 12px 12px; border: 0; display: grid; gap: 4px; min-width: 0; }
label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 6px; }
.tick { display: flex; gap: 8px; align-items: center; color: var(--ink); font-size: 15px; margin-top: 8px; }
.item { display: grid; grid-template-columns: minmax(0, 1fr) auto; gap: 4px; padding: 6px 0; border-top: 1px solid var(--rule); }
.item > :not(.p-button) { grid-column: 1; }
.item > .p-button { grid-column: 2; grid-row: 1; align-self: start; }
.add { justify-self: start; margin-top: 4px; }
</style>

<script setup lang="ts">
import { CHAT_LIMITS, type Chat } from '#core/chat/chat'
import type { PointDefinition } from '#core/points/definition'

/** The window of a chat: its tab, what it says by itself, how long it remembers, and what it says when nobody is there. */
const definition = defineModel<PointDefinition>({ required: true })
defineProps<{ disabled: boolean }>()
const chat = computed(() => definition.value.chat!)
const set = (change: Partial<Chat>) => {
  definition.value = { ...definition.value, chat: { ...chat.value, ...change } }
}
const show = (change: Partial<PointDefinition['display']>) => {
  definition.value = { ...definition.value, display: { ...definition.value.display, ...change } }
}
const PLACES = [
  { key: 'corner', name: 'In a corner below' },
  { key: 'edge', name: 'Half way up the edge' },
]
const SIDES = [
  { key: 'end', name: 'Right' },
  { key: 'start', name: 'Left' },
]
const ASKED = [
  { key: 'first', name: 'When it is handed over, and when nobody is there' },
  { key: 'away', name: 'Only when nobody is there' },
]
</script>

<template>
  <div class="window">
    <label for="chat-title">Above the window</label>
    <InputText id="chat-title" v-model="definition.title" :disabled="disabled" maxlength="200" fluid />
    <label for="chat-open">On the tab</label>
    <InputText
      id="chat-open"
      :model-value="definition.display.open"
      :disabled="disabled"
      maxlength="60"
      fluid
      @update:model-value="show({ open: $event ?? '' })"
    />
    <div class="two">
      <div>
        <label id="chat-place">Where the tab stands</label>
        <Select
          :model-value="chat.place"
          :options="PLACES"
          option-label="name"
          option-value="key"
          aria-labelledby="chat-place"
          :disabled="disabled"
          fluid
          @update:model-value="set({ place: $event })"
        />
      </div>
      <div>
        <label id="chat-side">Side</label>
        <Select
          :model-value="definition.display.side"
          :options="SIDES"
          option-label="name"
          option-value="key"
          aria-labelledby="chat-side"
          :disabled="disabled"
          fluid
          @update:model-value="show({ side: $event })"
        />
      </div>
    </div>
    <label for="chat-greeting">Greeting, beside the tab</label>
    <Textarea
      id="chat-greeting"
      :model-value="definition.display.invitation"
      :disabled="disabled"
      rows="2"
      auto-resize
      :maxlength="CHAT_LIMITS.text"
      fluid
      @update:model-value="show({ invitation: String($event ?? ''), placement: $event ? 'corner' : 'float' })"
    />
    <p class="faded small">Empty: the tab waits to be opened. When it is said, and to whom, stands in the frame “Where it stands”.
      <code v-text="'{{lead.first_name}}'" /> is a name where the browser is known to be theirs.</p>
    <label for="chat-keep">Days for which a browser that agreed keeps the conversation</label>
    <InputNumber
      :model-value="chat.keep"
      input-id="chat-keep"
      :min="0"
      :max="CHAT_LIMITS.days"
      :disabled="disabled"
      @update:model-value="set({ keep: $event ?? 0 })"
    />
    <p class="faded small">0: it is forgotten when the window is closed. Of a browser that did not agree nothing is kept.</p>
    <label for="chat-within">Working minutes within which a person answers first</label>
    <InputNumber
      :model-value="chat.within"
      input-id="chat-within"
      :min="1"
      :max="CHAT_LIMITS.within"
      :disabled="disabled"
      @update:model-value="set({ within: $event ?? 10 })"
    />
    <label id="chat-address">Who is not known is asked for an address</label>
    <Select
      :model-value="chat.address"
      :options="ASKED"
      option-label="name"
      option-value="key"
      aria-labelledby="chat-address"
      :disabled="disabled"
      fluid
      @update:model-value="set({ address: $event })"
    />
    <label for="chat-address-text">In these words</label>
    <InputText
      id="chat-address-text"
      :model-value="chat.addressText"
      :disabled="disabled"
      :maxlength="CHAT_LIMITS.text"
      fluid
      @update:model-value="set({ addressText: $event ?? '' })"
    />
    <label for="chat-away">When nobody is there</label>
    <InputText
      id="chat-away"
      :model-value="chat.away"
      :disabled="disabled"
      :maxlength="CHAT_LIMITS.text"
      fluid
      @update:model-value="set({ away: $event ?? '' })"
    />
    <p class="faded small">When somebody answers is said behind it.</p>
  </div>
</template>

<style scoped>
.window { display: grid; gap: 4px; } label { font-size: 13px; line-height: 18px; color: var(--faded); margin-top: 8px; } p { margin: 0; }
.two { display: grid; grid-template-columns: 3fr 2fr; gap: 10px; } .two label { display: block; margin-bottom: 4px; }
</style>

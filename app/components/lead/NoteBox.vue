<script setup lang="ts">
/** What is written for colleagues: `@` names one of them, who is told. */
const text = defineModel<string>({ required: true })
defineProps<{ label: string; placeholder?: string; rows?: number }>()
const emit = defineEmits<{ left: []; keep: [] }>()
const house = useHouse()
const session = useSession()
const box = ref<{ $el: HTMLTextAreaElement }>()
const own = useId()
/** What stands behind the `@` before the caret. */
const typed = ref<string | null>(null)
const at = ref(0)
const MOST = 6
const offered = computed(() => {
  const sought = typed.value?.toLowerCase()
  if (sought === undefined) return []
  const begins = (name: string) =>
    name.toLowerCase().startsWith(sought) ||
    name
      .toLowerCase()
      .split(' ')
      .some(part => part.startsWith(sought))
  return house.words!.members.filter(m => m.id !== session.me!.id && begins(m.name)).slice(0, MOST)
})
function look(): void {
  const field = box.value!.$el
  typed.value =
    /(?:^|\s)@([\p{L}\p{M}.'’-]{0,30}(?: [\p{L}\p{M}.'’-]{0,30})?)$/u.exec(field.value.slice(0, field.selectionStart))?.[1] ?? null
  at.value = 0
}
async function take(name: string): Promise<void> {
  const field = box.value!.$el
  const caret = field.selectionStart
  const from = caret - typed.value!.length
  text.value = `${text.value.slice(0, from)}${name} ${text.value.slice(caret)}`
  typed.value = null
  await nextTick()
  field.focus()
  field.setSelectionRange(from + name.length + 1, from + name.length + 1)
}
function onKey(event: KeyboardEvent): void {
  const { key } = event
  if (key === 'Enter' && (event.ctrlKey || event.metaKey)) return emit('keep')
  if (!offered.value.length) {
    if (key === 'Escape') {
      event.stopPropagation()
      emit('left')
    }
    return
  }
  if (key === 'ArrowDown' || key === 'ArrowUp')
    at.value = (at.value + (key === 'ArrowDown' ? 1 : -1) + offered.value.length) % offered.value.length
  else if (key === 'Enter' || key === 'Tab') void take(offered.value[at.value]!.name)
  else if (key === 'Escape') typed.value = null
  else return
  event.preventDefault()
  event.stopPropagation()
}
defineExpose({ focus: () => box.value?.$el.focus() })
</script>

<template>
  <div class="note-box">
    <Textarea
      ref="box"
      v-model="text"
      :rows="rows ?? 2"
      auto-resize
      fluid
      :placeholder="placeholder"
      :aria-label="label"
      maxlength="20000"
      aria-autocomplete="list"
      :aria-controls="offered.length ? own : undefined" :aria-activedescendant="offered.length ? `${own}-${at}` : undefined"
      @input="look" @click="look" @keydown="onKey" @blur="typed = null"
    />
    <ul v-if="offered.length" :id="own" role="listbox" aria-label="Colleagues to tell">
      <li
        v-for="(m, n) in offered"
        :id="`${own}-${n}`"
        :key="m.id"
        role="option"
        :aria-selected="n === at"
        @mousedown.prevent="take(m.name)"
      >
        {{ m.name }}
      </li>
    </ul>
  </div>
</template>

<style scoped>
.note-box { position: relative; }
ul { position: absolute; z-index: 4; inset: 100% auto auto 0; margin: 2px 0 0; padding: 4px 0; list-style: none; min-width: 220px; background: var(--sheet); border: 1px solid var(--rule); border-radius: 4px; }
li { padding: 5px 12px; cursor: pointer; } li[aria-selected=true] { background: var(--wash); }
</style>

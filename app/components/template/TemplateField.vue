<script setup lang="ts">
import { Bold, Italic, Link2, List, Trash2 } from 'lucide-vue-next'
import { Editor, EditorContent } from '@tiptap/vue-3'
import { TextSelection, type NodeSelection } from '@tiptap/pm/state'
import type { Placeholder } from '#core/mails/template'
import type { Place } from '#core/points/mails'
import { templateExtensions, type TemplateKind } from '~/editor/extensions'
import { PLACES } from '~/editor/places'
import { lineCodec, markdownCodec, plainCodec } from '~/editor/template-doc'
import TemplateChip from './TemplateChip.vue'

/** A text with placeholders, put in from a menu as named chips: a line, or a text with some form, kept as Markdown. */
const text = defineModel<string>({ required: true })
const props = defineProps<{ id: string; called: string; kind: TemplateKind; places: Place[]; most: number; disabled?: boolean }>()
provide(
  PLACES,
  computed(() => props.places),
)

const tooLong = ref(false)
let last = text.value
const editor = shallowRef<Editor>()
const chosen = ref<(Placeholder & { at: number }) | null>(null)
const linking = ref(false)
const href = ref('')
const other = ref('')
const marks = reactive({ bold: false, italic: false, list: false, link: false })
let codec: ReturnType<typeof lineCodec>

onMounted(() => {
  const made = new Editor({
    extensions: templateExtensions(props.kind, TemplateChip),
    editable: !props.disabled,
    // Our pages allow no styles but their own; what it needs stands below.
    injectCSS: false,
    editorProps: {
      attributes: {
        id: props.id,
        role: 'textbox',
        'aria-label': props.called,
        'aria-multiline': String(props.kind !== 'line'),
        class: 'template-text',
      },
      handleKeyDown: (_, event) => props.kind === 'line' && event.key === 'Enter',
      // Who set what stands there where it is not known goes on writing: only deleting takes a placeholder out.
      handleTextInput: (view, _, to, typed) => {
        const { node } = view.state.selection as Partial<NodeSelection>
        if (node?.type.name !== 'placeholder') return false
        const { tr } = view.state
        tr.insertText(typed, to)
        view.dispatch(tr.setSelection(TextSelection.create(tr.doc, to + typed.length)).scrollIntoView())
        return true
      },
    },
    onUpdate: ({ editor }) => {
      const now = codec.write(editor.state.doc)
      tooLong.value = now.length > props.most
      if (tooLong.value || now === last) return
      last = text.value = now
    },
    onTransaction: ({ editor }) => {
      const { selection } = editor.state
      const node = (selection as NodeSelection).node as NodeSelection['node'] | undefined
      chosen.value = node?.type.name === 'placeholder' ? { ...(node.attrs as Placeholder), at: selection.from } : null
      for (const [mark, name] of [
        ['bold', 'bold'],
        ['italic', 'italic'],
        ['list', 'bulletList'],
        ['link', 'link'],
      ] as const)
        marks[mark] = editor.isActive(name)
    },
  })
  codec = { line: lineCodec, text: markdownCodec, plain: plainCodec }[props.kind](made.schema)
  show(made)
  editor.value = made
})
onBeforeUnmount(() => editor.value?.destroy())
function show(made: Editor): void {
  made.commands.setContent(codec.read(text.value).toJSON(), { emitUpdate: false })
}
watch(text, now => {
  if (now === last || !editor.value) return
  last = now
  show(editor.value)
})
watch(
  () => props.disabled,
  off => editor.value?.setEditable(!off),
)

const groups = computed(() =>
  [...new Set(props.places.map(p => p.group))].map(group => ({ group, items: props.places.filter(p => p.group === group) })),
)
const links = computed(() => [
  ...props.places.filter(p => p.isLink).map(p => ({ name: `{{${p.name}}}`, label: p.label })),
  { name: '', label: 'Another address' },
])
/** A change at the selection. The text has the keyboard before this returns: the editor's own focusing waits for a frame, and loses what is typed until then. */
function act() {
  editor.value!.view.focus()
  return editor.value!.chain().focus()
}
function putIn(name: string | null): void {
  if (name)
    act()
      .insertContent({ type: 'placeholder', attrs: { name, fallback: '' } })
      .run()
}
function setFallback(typed: string | undefined): void {
  const { at } = chosen.value!
  const fallback = (typed ?? '').replace(/[{}\n]/g, '').slice(0, 100)
  editor
    .value!.chain()
    .command(({ tr }) => Boolean(tr.setNodeAttribute(at, 'fallback', fallback)))
    .setNodeSelection(at)
    .run()
}
function openLink(): void {
  linking.value = !linking.value
  const now = String(editor.value!.getAttributes('link').href ?? links.value[0]!.name)
  href.value = links.value.some(l => l.name === now) ? now : ''
  other.value = href.value ? '' : now
}
const address = computed(() => href.value || other.value.trim())
const isAddress = computed(() => href.value !== '' || /^(?:https?:\/\/[^\s/]+\.[^\s]|mailto:\S+@\S)/i.test(address.value))
function setLink(): void {
  const chain = act().extendMarkRange('link')
  const { empty } = editor.value!.state.selection
  if (empty && !marks.link)
    chain.insertContent({ type: 'text', text: 'Read on', marks: [{ type: 'link', attrs: { href: address.value } }] }).run()
  else chain.setLink({ href: address.value }).run()
  linking.value = false
}
function unlink(): void {
  act().extendMarkRange('link').unsetLink().run()
  linking.value = false
}
</script>

<template>
  <div class="template" :class="[kind, { off: disabled }]">
    <div v-if="!disabled" class="tools" role="toolbar" :aria-label="`${called}: form and placeholders`">
      <template v-if="kind === 'text'">
        <button type="button" :aria-pressed="marks.bold" aria-label="Bold" @click="act().toggleBold().run()">
          <Bold :size="15" aria-hidden="true" />
        </button>
        <button type="button" :aria-pressed="marks.italic" aria-label="Italic" @click="act().toggleItalic().run()">
          <Italic :size="15" aria-hidden="true" />
        </button>
        <button type="button" :aria-pressed="marks.list" aria-label="List" @click="act().toggleBulletList().run()">
          <List :size="15" aria-hidden="true" />
        </button>
        <button type="button" :aria-pressed="marks.link" :aria-expanded="linking" aria-label="Link" @click="openLink">
          <Link2 :size="15" aria-hidden="true" />
        </button>
      </template>
      <Select
        :model-value="null"
        :options="groups"
        option-group-label="group"
        option-group-children="items"
        option-label="label"
        option-value="name"
        placeholder="Put in …"
        size="small"
        class="put"
        :aria-label="`Put into ${called.toLowerCase()}`"
        scroll-height="320px"
        @update:model-value="putIn"
      />
    </div>
    <div v-if="linking" class="panel">
      <Select v-model="href" :options="links" option-label="label" option-value="name" size="small" aria-label="Where it leads" />
      <InputText
        v-if="!href"
        v-model="other"
        size="small"
        placeholder="https://firm.example/prices"
        aria-label="The address"
        @keydown.enter.prevent="isAddress && setLink()"
      />
      <Button label="Set the link" size="small" :disabled="!isAddress" @click="setLink" />
      <Button v-if="marks.link" label="No link" size="small" variant="text" severity="secondary" @click="unlink" />
    </div>
    <EditorContent v-if="editor" :editor="editor" />
    <div v-if="chosen && !disabled" class="panel">
      <label :for="`${id}-else`">Where it is not known</label>
      <InputText
        :id="`${id}-else`"
        :model-value="chosen.fallback"
        size="small"
        maxlength="100"
        placeholder="nothing stands there"
        @update:model-value="setFallback"
      />
      <Button size="small" variant="text" severity="secondary" aria-label="Take the placeholder out" @click="act().deleteSelection().run()">
        <Trash2 :size="15" aria-hidden="true" />
      </Button>
    </div>
    <p v-if="tooLong" class="brick small" role="alert">At most {{ most.toLocaleString('en') }} letters. What is more is not kept: shorten
      it.</p>
  </div>
</template>

<style scoped>
.template { width: 100%; min-width: 0; border: 1px solid var(--rule); border-radius: 4px; background: var(--sheet); }
.tools { display: flex; flex-wrap: wrap; gap: 2px; align-items: center; padding: 3px 4px; border-bottom: 1px solid var(--rule); }
.tools button { display: inline-grid; place-items: center; width: 30px; height: 28px; border: 0; border-radius: 3px; background: none; color: var(--ink); cursor: pointer; }
.tools button:hover { background: var(--wash); }
.tools button[aria-pressed='true'] { background: var(--wash); color: var(--spruce); box-shadow: inset 0 -2px var(--spruce); }
.put { margin-inline-start: auto; }
.plain :deep(.template-text p) { margin: 0; }
.line { display: grid; grid-template-columns: 1fr auto; align-items: center; }
.line .tools { order: 2; padding: 2px 4px; border: 0; }
.line > .panel, .line > p { grid-column: 1 / -1; order: 3; }
.panel { display: flex; flex-wrap: wrap; gap: 6px; align-items: center; padding: 6px 8px; border-block: 1px solid var(--rule); background: var(--paper); }
.panel label { margin: 0; font-size: 13px; color: var(--faded); }
.panel .p-inputtext { flex: 1 1 8rem; min-width: 0; }
.template :deep(.template-text) { position: relative; padding: 7px 10px; outline: none; overflow-wrap: anywhere; white-space: break-spaces; line-height: 22px; font-variant-ligatures: none; }
.template :deep(.ProseMirror-separator) { display: inline !important; width: 0; height: 0; border: 0; margin: 0; }
.template:focus-within { border-color: var(--spruce); }
.template :deep(.template-text:focus-visible) { box-shadow: inset 0 0 0 1px var(--spruce); }
.text :deep(.template-text), .plain :deep(.template-text) { min-height: 7rem; max-height: 26rem; overflow-y: auto; }
.template :deep(p) { margin: 0 0 8px; }
.template :deep(p:last-child) { margin: 0; }
.template :deep(h2) { margin: 10px 0 4px; font: 600 17px/24px var(--heading, inherit); }
.template :deep(ul), .template :deep(ol) { margin: 0 0 8px; padding-inline-start: 20px; }
.template :deep(a) { color: var(--spruce); text-decoration: underline; }
.off { background: transparent; }
</style>

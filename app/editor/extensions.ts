import { InputRule, Node, type Extensions } from '@tiptap/core'
import StarterKit from '@tiptap/starter-kit'
import { VueNodeViewRenderer } from '@tiptap/vue-3'
import type { Component } from 'vue'
import { partsOf, type Placeholder } from '#core/mails/template'

/** What of it an editor of templates has: a line, or a text with some form. */
export type TemplateKind = 'line' | 'text' | 'plain'

const chip = (view?: Component) =>
  Node.create({
    name: 'placeholder',
    group: 'inline',
    inline: true,
    atom: true,
    selectable: true,
    addAttributes: () => ({ name: { default: '' }, fallback: { default: '' } }),
    parseHTML: () => [
      { tag: 'span[data-placeholder]', getAttrs: e => ({ name: e.dataset.placeholder, fallback: e.dataset.fallback ?? '' }) },
    ],
    renderHTML: ({ node }) => [
      'span',
      { 'data-placeholder': node.attrs.name as string, 'data-fallback': node.attrs.fallback as string },
      node.attrs.name as string,
    ],
    renderText: ({ node }) => `{{${node.attrs.name as string}}}`,
    addNodeView: view ? () => VueNodeViewRenderer(view as never) : undefined,
    // Who types braces all the same gets what they mean.
    addInputRules() {
      return [
        new InputRule({
          find: /\{\{[\w.]+\}\}$/,
          handler: ({ range, match, chain }) => {
            const [placeholder] = partsOf(match[0]) as Placeholder[]
            chain()
              .deleteRange(range)
              .insertContent({ type: 'placeholder', attrs: { ...placeholder } })
              .run()
          },
        }),
      ]
    },
  })

const Line = Node.create({ name: 'doc', topNode: true, content: 'paragraph' })
const Lines = Node.create({ name: 'doc', topNode: true, content: 'paragraph+' })

/** @param view how a placeholder is drawn */
export function templateExtensions(kind: TemplateKind, view?: Component): Extensions {
  const off = {
    blockquote: false,
    code: false,
    codeBlock: false,
    horizontalRule: false,
    strike: false,
    underline: false,
    trailingNode: false,
  } as const
  const line = {
    bold: false,
    italic: false,
    bulletList: false,
    orderedList: false,
    listItem: false,
    listKeymap: false,
    hardBreak: false,
    heading: false,
    link: false,
    document: false,
  } as const
  const links = {
    openOnClick: false,
    autolink: true,
    linkOnPaste: true,
    protocols: ['mailto'],
    isAllowedUri: (url: string) => /^(?:https?:\/\/|mailto:|\{\{)/i.test(url),
  }
  return [
    ...(kind === 'line'
      ? [Line, StarterKit.configure({ ...off, ...line })]
      : kind === 'plain'
        ? [Lines, StarterKit.configure({ ...off, ...line })]
        : [StarterKit.configure({ ...off, heading: { levels: [2] }, link: links })]),
    chip(view),
  ]
}

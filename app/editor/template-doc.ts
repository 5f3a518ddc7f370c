import { MarkdownParser, MarkdownSerializer, type MarkdownSerializerState } from 'prosemirror-markdown'
import { Fragment, type Node, type Schema } from '@tiptap/pm/model'
import { templateMarkdown } from '#core/mails/markup'
import { asMarkdown, fromMarkdown, partsOf, placeholderText, type Placeholder } from '#core/mails/template'

/** Reads a text into a document of the editor, and writes it back. */
export interface Codec {
  read: (text: string) => Node
  write: (doc: Node) => string
}

/** One line: letters and placeholders. */
export function lineCodec(schema: Schema): Codec {
  const inline = (part: string | Placeholder) => (typeof part === 'string' ? schema.text(part) : schema.nodes.placeholder!.create(part))
  return {
    read: text =>
      schema.nodes.doc!.create(
        null,
        schema.nodes.paragraph!.create(null, Fragment.from(partsOf(text.replace(/\s*\n\s*/g, ' ')).map(inline))),
      ),
    write: doc =>
      doc
        .child(0)
        .children.map(n => n.text ?? placeholderText(n.attrs as Placeholder))
        .join(''),
  }
}

/** Lines without form: each a paragraph of letters and placeholders. */
export function plainCodec(schema: Schema): Codec {
  const inline = (part: string | Placeholder) => (typeof part === 'string' ? schema.text(part) : schema.nodes.placeholder!.create(part))
  const line = (text: string) => schema.nodes.paragraph!.create(null, Fragment.from(partsOf(text).map(inline)))
  return {
    read: text => schema.nodes.doc!.create(null, Fragment.from(text.split('\n').map(line))),
    write: doc => doc.children.map(p => p.children.map(n => n.text ?? placeholderText(n.attrs as Placeholder)).join('')).join('\n'),
  }
}

/** Letters that mean something in Markdown, wherever they stand. */
const MEANS = /[\\*_[\]<`~]/g
/** What would begin a heading or a list where a line begins. */
const BEGINS = /^(#{1,6}|[-+])(?=\s|$)/
const COUNTS = /^(\d{1,9})([.)])(?=\s|$)/

/** Text as Markdown, as readable as can be. @param begins whether a line begins with it */
function escaped(text: string, begins: boolean): string {
  const plain = partsOf(text)
    .map(p => (typeof p === 'string' ? p.replace(MEANS, '\\$&') : placeholderText(p)))
    .join('')
  return begins ? plain.trimStart().replace(BEGINS, '\\$1').replace(COUNTS, '$1\\$2') : plain
}
const beginsLine = (parent: Node, index: number) => index === 0 || parent.child(index - 1).type.name === 'hardBreak'

const serializer = new MarkdownSerializer(
  {
    paragraph(state, node) {
      state.renderInline(node)
      state.closeBlock(node)
    },
    heading(state, node) {
      state.write('## ')
      state.renderInline(node)
      state.closeBlock(node)
    },
    bulletList: (state, node) => state.renderList(node, '  ', () => '- '),
    orderedList(state, node) {
      const first = Number(node.attrs.start ?? 1)
      state.renderList(node, '   ', i => `${first + i}. `)
    },
    listItem: (state, node) => state.renderContent(node),
    // A break at the end of a paragraph would be a line with nothing on it.
    hardBreak(state, _, parent, index) {
      if (index < parent.childCount - 1 && index > 0 && parent.child(index + 1).type.name !== 'hardBreak') state.write('\n')
    },
    text(state, node, parent, index) {
      state.text((state as Linked).inAutolink ? node.text! : escaped(node.text!, beginsLine(parent, index)), false)
    },
    placeholder: (state, node) => state.text(placeholderText(node.attrs as Placeholder, asMarkdown), false),
  },
  {
    bold: { open: '**', close: '**', mixable: true, expelEnclosingWhitespace: true },
    italic: { open: '*', close: '*', mixable: true, expelEnclosingWhitespace: true },
    link: {
      open(state, mark, parent, index) {
        const alone =
          parent.child(index).text === mark.attrs.href &&
          parent.child(index).marks.length === 1 &&
          !parent.maybeChild(index + 1)?.marks.includes(mark)
        ;(state as Linked).inAutolink = alone && /^(?:https?:\/\/|mailto:)/i.test(String(mark.attrs.href))
        return (state as Linked).inAutolink ? '<' : '['
      },
      close(state, mark) {
        const auto = (state as Linked).inAutolink
        ;(state as Linked).inAutolink = undefined
        const href = String(mark.attrs.href)
        return auto ? '>' : href.startsWith('{{') ? `](${href})` : `](<${href.replace(/[<>\\]/g, '\\$&')}>)`
      },
      mixable: true,
    },
  },
  { hardBreakNodeName: 'hardBreak' },
)
type Linked = MarkdownSerializerState & { inAutolink?: boolean }

/** A text in Markdown, as mails have it. */
export function markdownCodec(schema: Schema): Codec {
  const parser = new MarkdownParser(schema, templateMarkdown(), {
    paragraph: { block: 'paragraph' },
    heading: { block: 'heading', attrs: { level: 2 } },
    bullet_list: { block: 'bulletList' },
    ordered_list: { block: 'orderedList', getAttrs: token => ({ start: Number(token.attrGet('start') ?? 1) }) },
    list_item: { block: 'listItem' },
    hardbreak: { node: 'hardBreak' },
    softbreak: { node: 'hardBreak' },
    em: { mark: 'italic' },
    strong: { mark: 'bold' },
    link: { mark: 'link', getAttrs: token => ({ href: token.attrGet('href') }) },
    placeholder: {
      node: 'placeholder',
      getAttrs: token => ({ ...(token.meta as Placeholder), fallback: fromMarkdown((token.meta as Placeholder).fallback) }),
    },
  })
  return { read: text => parser.parse(text), write: doc => serializer.serialize(doc, { tightLists: true }).trimEnd() }
}

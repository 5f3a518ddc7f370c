import { doc } from 'prettier'

const BLOCK = /^(<script\b[^>]*>\n)(.*?)^(<\/script>)/gms
const { hardline, literalline, join } = doc.builders

/**
 * Lays out what stands in the script blocks of Vue's files as any other TypeScript, and leaves the rest as it was written: a line
 * break in a template may be a space (docs/decisions/0077).
 */
export const parsers = {
  'vue-scripts': { astFormat: 'vue-scripts', parse: text => ({ text }), locStart: () => 0, locEnd: ({ text }) => text.length },
}
export const printers = {
  'vue-scripts': {
    print: path => asWritten(path.node.text),
    embed: path => async textToDoc => {
      const parts = []
      let done = 0
      for (const block of path.node.text.matchAll(BLOCK)) {
        const [whole, opens, script, closes] = block
        parts.push(
          asWritten(path.node.text.slice(done, block.index) + opens),
          await textToDoc(script, { parser: 'typescript' }),
          hardline,
          closes,
        )
        done = block.index + whole.length
      }
      return [...parts, asWritten(path.node.text.slice(done))]
    },
  },
}
const asWritten = text => join(literalline, text.split('\n'))

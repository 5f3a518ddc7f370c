/** The package's own types name another module. */
declare module '@mixmark-io/domino' {
  const domino: { createDocument: (html: string) => Document }
  export default domino
}
declare module 'turndown-plugin-gfm' {
  import type Turndown from 'turndown'
  export const tables: Turndown.Plugin
}

import { fileURLToPath } from 'node:url'
import { build } from 'esbuild'
import { LOOK } from './look'

/** The script of the page that sends visitors, for browsers. */
export async function strollScript(): Promise<string> {
  const { outputFiles } = await build({
    entryPoints: [fileURLToPath(new URL('stroll.client.ts', import.meta.url))],
    bundle: true,
    write: false,
    format: 'iife',
    target: 'es2022',
  })
  return outputFiles[0]!.text
}

const STAGE = `
main{padding-top:8px}
#stage{display:grid;grid-template-columns:repeat(auto-fill,minmax(460px,1fr));gap:24px;margin-top:24px}
figure{margin:0}
figure div{width:460px;max-width:100%;height:345px;overflow:hidden;border:1px solid #cfcab6;background:#fff}
iframe{width:1024px;height:768px;border:0;transform:scale(.449);transform-origin:0 0;pointer-events:none}
figcaption{font-size:16px;line-height:24px;padding-top:6px;min-height:30px}
#send{font:inherit;background:var(--leaf);color:#fff;border:0;padding:12px 24px;border-radius:2px;cursor:pointer}
`

/** Not a page of the firm's site: it lets made-up people stroll over it, and carries no tag itself. */
export const strollPage =
  (): string => `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>Send visitors – Larkmoss Glasshouses</title><style>${LOOK}${STAGE}</style><link rel="icon" href="data:,"></head><body>
<header><strong><a href="/">Larkmoss Glasshouses</a></strong></header>
<main><h1>Send visitors</h1><p class="lead">Made-up people stroll over this site for a few minutes, four at a time, each in a frame of your own browser. They read, agree or do not, begin a form, leave it or send it. Close this page and they are gone.</p>
<button id="send" type="button">Send visitors</button><div id="stage" aria-live="off"></div></main>
<script src="/visitors.js"></script></body></html>`

/** Who strolls in a frame keeps what they keep apart from the others: to browsers, frames of one site are one visitor. */
export const STROLLER = `<script>if(/^stroller-/.test(window.name)&&parent!==window)try{Object.defineProperty(window,'localStorage',{configurable:true,value:parent.strollers[window.name]})}catch(e){}</script>`

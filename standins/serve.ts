import { createServer } from 'node:http'
import { toNodeListener, type App } from 'h3'

/** Serves a stand-in on loopback and ends with its parent. */
export function serve(app: App, port: number): void {
  const server = createServer(toNodeListener(app)).listen(port, '127.0.0.1')
  for (const signal of ['SIGTERM', 'SIGINT'] as const)
    process.once(signal, () => {
      server.closeAllConnections()
      server.close(() => process.exit(0))
    })
}

/** A port from the environment. */
export function portOf(name: string): number {
  const port = Number(process.env[name])
  if (!port) throw new Error(`${name} is not set`)
  return port
}

/** Text for HTML. The stand-ins take nothing from the application, not even this. */
export const text = (value: unknown) => String(value).replace(/[&<>"']/g, c => `&#${c.charCodeAt(0)};`)

/** The plain page that the stand-ins share. */
export function page(title: string, content: string): string {
  return `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${text(title)}</title>
<style>body{font:16px/24px system-ui,sans-serif;max-width:52rem;margin:2rem auto;padding:0 1rem;color:#222}details{border-top:1px solid #ccc;padding:.6rem 0}summary{cursor:pointer;overflow-wrap:anywhere}pre{white-space:pre-wrap;overflow-wrap:anywhere;background:#f4f4f4;padding:1rem}small{color:#555}button,select{font:inherit;padding:.3rem .7rem}</style>
<h1>${text(title)}</h1>${content}</html>`
}

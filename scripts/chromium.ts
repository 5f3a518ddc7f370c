import { existsSync } from 'node:fs'

/** Debian's packages of Chromium, the better one first: the shell is the same browser without the windows that nobody sees, and costs two thirds of it. */
export const CHROMIUMS = ['chromium-headless-shell', 'chromium']

/** Where Debian's Chromium stands; null without one. */
export const chromiumPath = (): string | null => CHROMIUMS.map(name => `/usr/bin/${name}`).find(path => existsSync(path)) ?? null

/** How to start it here, also as root. The path is looked up when it is asked for. */
export const CHROMIUM = {
  get executablePath() {
    return chromiumPath() ?? '/usr/bin/chromium'
  },
  args: [
    '--no-sandbox',
    '--headless',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
}

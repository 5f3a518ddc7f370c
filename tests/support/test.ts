import { test as plain, type BrowserContext, type ConsoleMessage } from '@playwright/test'
import { demo } from './house'

export { expect, type Page } from '@playwright/test'

/** What browsers said of our own pages that went against their policy. */
const reports: string[] = []
const report = (message: ConsoleMessage) => {
  const at = message.page()?.url() ?? message.location().url
  if (message.text().includes('Content Security Policy') && at.startsWith(demo().url)) reports.push(`${at}: ${message.text()}`)
}

/** A test in the browser; it fails when a page of ours does what its own Content-Security-Policy forbids. */
export const test = plain.extend<{ policy: void }, { watched: void }>({
  watched: [
    async ({ browser }, use) => {
      const open = browser.newContext.bind(browser)
      browser.newContext = async (...how): Promise<BrowserContext> => {
        const context = await open(...how)
        context.on('console', report)
        return context
      }
      await use()
    },
    { scope: 'worker', auto: true },
  ],
  policy: [
    async ({ browser: _ }, use) => {
      reports.length = 0
      await use()
      if (reports.length) throw new Error(`Pages of ours broke their own policy:\n${[...new Set(reports)].join('\n')}`)
    },
    { auto: true },
  ],
})

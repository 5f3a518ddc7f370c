import { readFile } from 'node:fs/promises'
import { defineEventHandler } from 'h3'
import { setting } from '#server/settings'

/** The demo's members with their passwords, for signing in at a click; nothing outside the demo. */
export default defineEventHandler(async () => {
  const file = setting('CAVLIN_DEMO_FILE')
  if (!file) return { members: [], site: null, mailbox: null }
  const demo = JSON.parse(await readFile(file, 'utf8')) as { members: unknown[]; standins: { site: string; mailbox: string } }
  return { members: demo.members, ...demo.standins }
})

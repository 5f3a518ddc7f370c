import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'

/** Who writes a lead, its score, label, owner, lists or browsers; everything else goes through causes (`core/leads/apply`). */
const OWNERS: Record<string, RegExp> = {
  'db/steps.ts': /./,
  // What became of a browser, as the book says; that it is proven, parted, or forgotten.
  'db/trail.ts': /visitor_lead/,
  // A list is published in one moment, before its people are judged anew.
  'db/imports.ts': /list_member/,
  // Whoever never gave anything goes, with all that hangs on them.
  // Whoever went into another goes with all that is handed over, and comes back as it was, before either is judged anew.
  'db/merges.ts': /(update|insert into|delete from) (lead|list_member|visitor_lead)/,
  'db/drop-leads.ts': /delete from (lead|visitor_lead)/,
}
const WRITES = /(update|insert into|delete from)\s+(lead|list_member|visitor_lead)\b/gi

const files = (folder: string): string[] =>
  readdirSync(folder).flatMap(name => {
    const path = join(folder, name)
    return statSync(path).isDirectory() ? (path === 'db/migrations' ? [] : files(path)) : /\.(ts|mts|vue)$/.test(name) ? [path] : []
  })

describe('every change of a lead', () => {
  it('has one owner: nothing else writes a lead, its lists or its browsers', () => {
    const strangers = ['core', 'db', 'server', 'app', 'widget', 'scripts', 'demo', 'standins'].flatMap(files).flatMap(file => {
      const found = [...readFileSync(file, 'utf8').matchAll(WRITES)].map(m => m[0].replace(/\s+/g, ' ').toLowerCase())
      return found.filter(statement => !OWNERS[file]?.test(statement)).map(statement => `${file}: ${statement}`)
    })
    expect(strangers).toEqual([])
  })
  it('is looked for where it would be', () => {
    const found = (file: string) => [...readFileSync(file, 'utf8').matchAll(WRITES)].length
    for (const file of Object.keys(OWNERS)) expect([file, found(file) > 0]).toEqual([file, true])
  })
})

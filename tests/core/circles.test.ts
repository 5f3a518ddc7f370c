import { cruise } from 'dependency-cruiser'
import extractTSConfig from 'dependency-cruiser/config-utl/extract-ts-config'
import { expect, it } from 'vitest'

it('no file imports itself by way of others, not even for a type', { timeout: 120_000 }, async () => {
  const { output } = await cruise(
    ['core', 'db', 'server', 'widget', 'standins', 'demo'],
    {
      ruleSet: { forbidden: [{ name: 'circle', severity: 'error', from: {}, to: { circular: true } }] },
      validate: true,
      tsPreCompilationDeps: true,
      doNotFollow: { path: 'node_modules' },
      exclude: { path: 'node_modules' },
      tsConfig: { fileName: 'tsconfig.node.json' },
    },
    undefined,
    { tsConfig: extractTSConfig('tsconfig.node.json') },
  )
  if (typeof output === 'string') throw new Error(output)
  expect(output.summary.totalCruised).toBeGreaterThan(300)
  expect(output.summary.violations.map(v => [v.from, ...(v.cycle?.map(c => c.name) ?? [])].join(' → '))).toEqual([])
})

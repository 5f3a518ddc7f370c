import { describe, expect, it } from 'vitest'
import { componentStyles, used } from '../../scripts/component-styles'

describe('the components’ styles', () => {
  it('are whole: what is shared, what a component is made of, and each variable that is asked for', async () => {
    const sheet = (await componentStyles(['Button', 'Select']).load('\0virtual:components.css'))!
    expect(sheet).toMatch(/\.p-component:disabled[^{]*\{[^}]*opacity/)
    // A Select searches in a list of its own.
    for (const name of ['.p-button', '.p-select', '.p-virtualscroller', '.p-inputtext']) expect(sheet).toContain(name)
    expect(sheet).toContain('.dark')
    const defined = new Set([...sheet.matchAll(/(--p-[\w-]+):/g)].map(m => m[1]))
    expect([...new Set([...sheet.matchAll(/var\((--p-[\w-]+)\)/g)].map(m => m[1]))].filter(name => !defined.has(name))).toEqual([])
    expect(sheet).not.toMatch(/\bdt\(|\[object|undefined/)
  })
  it('carry no variable that nothing asks for, also not one that only such a one asked for', () => {
    expect(used(':root{--p-a:var(--p-b);--p-b:1px;--p-c:var(--p-d);--p-d:2px}.x{width:var(--p-a)}')).toBe(
      ':root{--p-a:var(--p-b);--p-b:1px;}.x{width:var(--p-a)}',
    )
  })
})

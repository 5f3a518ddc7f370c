import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { mentionsIn } from '#core/follow-up/mentions'

const TEAM = [
  { id: 'j', name: 'Jonah Birkett' },
  { id: 'jo', name: 'Jonah Birkett-Osei' },
  { id: 'm', name: 'Mireille Vauclair' },
]

describe('who is named in a note', () => {
  it.each([
    ['@Jonah Birkett will you?', ['j']],
    ['ask @jonah birkett-osei, not @Mireille Vauclair.', ['jo', 'm']],
    ['@Mireille Vauclair @Mireille Vauclair', ['m']],
    ['@Jonah is not a whole name, jonah@Mireille Vauclair no name', []],
    ['(@Mireille Vauclair) and\n@Jonah Birkett', ['m', 'j']],
    ['@Mireille Vauclairs', []],
    ['', []],
  ])('%s', (text, found) => expect(mentionsIn(text, TEAM)).toEqual(found))

  it('are those whose whole name stands behind an @, whatever else is written', () =>
    void fc.assert(
      fc.property(fc.array(fc.constantFrom(' ', '@', 'x', ...TEAM.map(m => `@${m.name} `), 'Jonah')), parts => {
        const text = parts.join('')
        for (const id of mentionsIn(text, TEAM)) expect(text).toContain(`@${TEAM.find(m => m.id === id)!.name}`)
      }),
    ))
})

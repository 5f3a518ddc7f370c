import { expect, it } from 'vitest'
import { PROPERTY_KINDS } from '#core/properties/kinds'
import { asInNuxt } from './as-in-nuxt'

it('conditions offer what a property can be, wherever that is a choice', async () => {
  const own = [
    { value: 'a', text: 'A' },
    { value: 'b', text: 'B' },
  ]
  const properties = PROPERTY_KINDS.map(kind => ({
    key: kind,
    label: kind,
    kind,
    choices: kind === 'one_of' || kind === 'some_of' ? own : [],
    sensitivity: 'ordinary',
  }))
  const named = (key: string) => [{ key, name: key, id: key, value: key, text: key }]
  const words = {
    properties,
    labels: named('label'),
    lists: named('list'),
    segments: named('segment'),
    statuses: named('status'),
    members: named('member'),
  }
  asInNuxt({ api: async () => named('form_a'), useHouse: () => ({ words }) })
  const { leadAttributes, activityAttributes } = (await import('../../app/composables/lead-attributes')).useLeadAttributes()
  await Promise.resolve()
  const choices = (name: string) => leadAttributes.value.find(a => a.name === name)?.choices ?? null
  expect(choices('property.country')).toContainEqual({ value: 'FR', text: 'France' })
  expect([choices('property.one_of'), choices('property.some_of'), choices('property.yes_no')]).toEqual([
    own,
    own,
    [
      { value: 'yes', text: 'Yes' },
      { value: 'no', text: 'No' },
    ],
  ])
  expect(['label', 'list', 'segment', 'status', 'owner'].map(name => choices(name)?.map(c => c.value))).toEqual([
    ['label'],
    ['list'],
    ['segment'],
    ['status'],
    ['member'],
  ])
  // What only members may open is asked for nowhere.
  expect(choices('property.file')).toBeNull()
  expect(activityAttributes('entry').find(a => a.name === 'point')!.choices).toEqual([{ value: 'form_a', text: 'form_a' }])
})

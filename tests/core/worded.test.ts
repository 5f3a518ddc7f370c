import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { TOLD } from '#core/telling/telling'
import { flawInNotice, PLACES_OF_NOTICES, worded, type NoticeFacts } from '#core/telling/worded'
import { flawInPersonal, placesOfPersonal, subjectTo, writtenTo } from '#core/mails/personal'

const facts = (more: Partial<NoticeFacts> = {}): NoticeFacts => ({
  subject: 'Ida is yours now',
  text: 'Jonah gave them to you.',
  deadline: '',
  owner: 'Jonah',
  member: 'Mireille',
  lead: { name: 'Ida Quay', first_name: 'Ida', company: 'Quay', label: 'Early', status: 'Untouched' },
  ...more,
})

describe('what members are told', () => {
  it('is as usual, with the deadline of who waits', () => {
    expect(worded({}, 'given', facts())).toEqual({ subject: 'Ida is yours now', text: 'Jonah gave them to you.' })
    expect(worded({}, 'given', facts({ deadline: 'Mon 30 Nov, 10:30' })).text).toBe(
      'Jonah gave them to you. They are promised an answer by Mon 30 Nov, 10:30.',
    )
    expect(worded({}, 'mention', facts({ deadline: 'Mon' })).text).toBe('Jonah gave them to you.')
  })
  it('is in the house’s words where it has some, in one line of a subject, whatever they are', () => {
    expect(
      worded(
        { given: { subject: '{{lead.name}}\n{{deadline}}', text: '{{usual.text}} {{#deadline}}By {{deadline}}.{{/deadline}}' } },
        'given',
        facts({ deadline: 'noon' }),
      ),
    ).toEqual({ subject: 'Ida Quay noon', text: 'Jonah gave them to you. They are promised an answer by noon. By noon.' })
    expect(worded({ given: { subject: '{{lead.name', text: 'x' } }, 'given', facts()).subject).toBe('Ida is yours now')
    // What visitors typed stays what it is.
    expect(
      worded({ given: { subject: '{{lead.name}}', text: 'x' } }, 'given', facts({ lead: { ...facts().lead, name: '{{owner.name}} <b>' } }))
        .subject,
    ).toBe('{{owner.name}} <b>')
    void fc.assert(
      fc.property(fc.string(), fc.string(), fc.constantFrom(...TOLD), (subject, text, topic) => {
        const told = worded({ [topic]: { subject, text } }, topic, facts())
        expect(told.subject).not.toMatch(/[\r\n]/)
        expect(told.subject).not.toBe('')
      }),
    )
  })
  it('names all that the menu offers, and nothing else', () => {
    for (const { name } of PLACES_OF_NOTICES) expect(flawInNotice(`a {{${name}}} b`)).toBeNull()
    for (const wrong of ['{{lead.phone}}', '{{', '{{#lead.name}}x', '{{&constructor}}']) expect(flawInNotice(wrong)).not.toBeNull()
  })
})

describe('a mail to one person from a ready text', () => {
  const ida = { firstName: 'Ida', lastName: null, name: 'Ida', company: null }
  const us = { me: 'Jonah Birkett', house: 'Larkmoss Glasshouses' }
  it('greets and says who writes, unless the text does', () => {
    expect(writtenTo('When may I call?', ida, us, {})).toBe(
      'Hello Ida,\n\nWhen may I call?\n\nWith kind regards\nJonah Birkett\nLarkmoss Glasshouses',
    )
    expect(writtenTo('Dear {{lead.name}},\n{{known.town}}{{^known.town}}somewhere{{/known.town}}\n{{me.name}}', ida, us, {})).toBe(
      'Dear Ida,\nsomewhere\nJonah Birkett',
    )
    expect(subjectTo('About\n{{known.town}} ', ida, us, { town: 'Fenwick' })).toBe('About Fenwick')
  })
  it('names what the menu offers', () => {
    for (const { name } of placesOfPersonal([{ key: 'town', label: 'Town' }])) expect(flawInPersonal(`{{${name}}}`)).toBeNull()
    for (const wrong of ['{{lead.email}}', '{{known.}}', '{{', '{{known.Town}}']) expect(flawInPersonal(wrong)).not.toBeNull()
  })
})

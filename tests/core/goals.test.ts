import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addedAction, mailsOf } from '#core/actions/edit'
import { checksOf } from '#core/points/checks'
import type { PointDefinition } from '#core/points/definition'
import { alsoIn, fileHandedOver, goalPlaces, leadTo } from '#core/points/goals'
import { firstConfirmation, firstMail } from '#core/points/mails'
import type { Next } from '#core/points/next'
import { STARTERS } from '#core/points/starters'

const blank = STARTERS.find(s => s.key === 'call')!.definition
const file = (n: number) => ({ id: `00000000-0000-4000-8000-00000000000${n}`, name: `guide-${n}.pdf` })
const handing = (n: number): Next => ({ kind: 'file', file: file(n) })
const withMails = (d: PointDefinition = { ...blank, confirm: firstConfirmation() }) =>
  addedAction(addedAction(d, 'mail', firstMail(false)), 'mail', firstMail(true))

describe('a file to hand over', () => {
  it('is chosen once: a starter with one has it in its thanks and in its mail', () => {
    const guide = STARTERS.find(s => s.key === 'guide')!.definition
    const around = { properties: [], labels: [], topics: [], members: [], lists: [] }
    const missing = (d: PointDefinition) => checksOf(d, around).filter(c => c.message.includes('missing'))
    expect(missing(guide)).toHaveLength(2)
    const chosen = leadTo(guide, 'thanks', handing(1))
    expect(missing(chosen)).toEqual([])
    expect(chosen.next).toEqual(handing(1))
    expect(mailsOf(chosen)[0]!.goal).toEqual(handing(1))
    expect(alsoIn(chosen, 'thanks')).toEqual(['mail 1'])
    expect(alsoIn(chosen, `mail ${mailsOf(chosen)[0]!.key}`)).toEqual(['the thanks'])
  })
  it('stands where one is asked for later, changes everywhere, or in one place only', () => {
    let d = leadTo(leadTo(withMails(), 'thanks', { kind: 'file', file: null }), 'thanks', handing(1))
    d = leadTo(d, 'mail mail', { kind: 'file', file: null })
    d = leadTo(d, 'confirm', { kind: 'file', file: null })
    expect(alsoIn(d, 'thanks')).toEqual(['the words after confirming', 'mail 1'])
    d = leadTo(d, 'confirm', handing(2), true)
    expect(alsoIn(d, 'thanks')).toEqual(['mail 1'])
    d = leadTo(d, 'mail mail', handing(3))
    expect(goalPlaces(d).map(p => p.goal)).toEqual([handing(3), handing(2), handing(3), { kind: 'message' }])
    d = leadTo(d, 'thanks', { kind: 'file', file: null })
    expect(
      goalPlaces(d)
        .map(p => p.goal)
        .slice(0, 3),
    ).toEqual([{ kind: 'file', file: null }, handing(2), handing(3)])
  })
  it('has its link in the text of its mail, once, and takes it along', () => {
    const { text } = mailsOf(withMails())[0]!
    const led = leadTo(withMails(), 'mail mail', handing(1))
    expect(mailsOf(led)[0]!.text).toBe(`${text}\n\n{{link}}`)
    expect(leadTo(led, 'mail mail', handing(2))).toEqual(leadTo(withMails(), 'mail mail', handing(2)))
    expect(leadTo(led, 'mail mail', { kind: 'message' })).toEqual(withMails())
  })
  it('changes nothing but the places that hand it over, whatever was chosen before', () => {
    const next = fc.oneof(
      fc.constant<Next>({ kind: 'message' }),
      fc.constant<Next>({ kind: 'file', file: null }),
      fc.constant<Next>({ kind: 'address', address: 'https://a.example' }),
      fc.integer({ min: 1, max: 3 }).map(handing),
    )
    const place = fc.constantFrom('thanks', 'confirm', 'mail mail', 'mail mail_2', 'mail gone')
    fc.assert(
      fc.property(fc.array(fc.tuple(place, next), { maxLength: 12 }), place, next, fc.boolean(), (before, at, goal, alone) => {
        const d = before.reduce((led, [p, g]) => leadTo(led, p, g), withMails())
        const led = leadTo(d, at, goal, alone)
        const [was, is] = [goalPlaces(d), goalPlaces(led)]
        is.forEach((p, i) => {
          const old = was[i]!.goal
          if (p.place === at)
            return expect(p.goal).toEqual(
              goal.kind === 'file' && !goal.file && old.kind !== 'file' ? { kind: 'file', file: fileHandedOver(d) } : goal,
            )
          if (old.kind !== 'file' || alone) return expect(p.goal).toEqual(old)
          expect([old, goal]).toContainEqual(p.goal)
        })
      }),
    )
  })
})

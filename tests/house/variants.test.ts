import { randomUUID } from 'node:crypto'
import { describe, expect, it } from 'vitest'
import { experimentOf } from '#core/points/variants'
import type { PointDefinition } from '#core/points/definition'
import type { ExperimentView } from '#core/team'
import { browser } from '../support/browser'
import { form, q } from '../support/forms'
import { demo, send, signedIn, somebody } from '../support/house'

const two = () =>
  form(d => {
    d.title = 'First'
    d.questions = [q('mail', 'email', { property: 'email', required: true })]
    d.variants = [{ key: 'b', title: 'Second', intro: '', button: 'Go', invitation: '', open: 'Open' }]
  })
const experimentView = async (id: string) =>
  (await (await (await signedIn('tamsin'))(`/api/team/points/${id}/experiment`)).json()) as ExperimentView
const counts = async (id: string) => Object.fromEntries((await experimentView(id)).variants.map(w => [w.key, [w.seen, w.answered]]))

describe('a point in two variants', () => {
  it('tells browsers both, and counts each visitor once, with what they saw first, and those who answered', async () => {
    const { id, key, definition } = await two()
    const experiment = experimentOf(definition)!
    const shown = (await (await fetch(`${demo().url}/w/points/${key}`)).json()) as { experiment: string; variants: object[] }
    expect(shown).toMatchObject({ experiment, variants: [{ key: 'b', title: 'Second', intro: '', button: 'Go' }] })
    const saw = async (variant: string, more: object = {}) => {
      const b = browser()
      await b.did([{ kind: 'seen', point: key, edition: 1, experiment, variant, ...more }])
      return b
    }
    const [a1, b1] = [await saw('a'), await saw('b')]
    await saw('a')
    await a1.did([
      { kind: 'seen', point: key, edition: 1, experiment, variant: 'a' },
      { kind: 'seen', point: key, edition: 1, experiment, variant: 'b' },
    ])
    // Words that nobody tries, and another experiment's, count for nothing.
    await saw('c')
    await saw('a', { experiment: 'other' })
    await b1.did([{ kind: 'seen', point: key, edition: 1 }])
    const answer = (visitor: string, variant: string) =>
      send(key, JSON.stringify({ answers: { mail: somebody('experiment') }, visitor, experiment, variant }))
    expect((await answer(b1.visitor, 'b')).status).toBe(201)
    expect((await answer(b1.visitor, 'b')).status).toBe(201)
    // The answer may come before the sight of it; who had seen the other variant counts for neither.
    expect((await answer(randomUUID(), 'b')).status).toBe(201)
    expect((await answer(a1.visitor, 'b')).status).toBe(201)
    expect(await counts(id)).toEqual({ a: [2, 0], b: [2, 2] })
    const view = await experimentView(id)
    expect(view.variants[1]!.best).toBeGreaterThan(0.8)
    expect(view.variants[0]!.loss).toBeGreaterThan(view.variants[1]!.loss)
    // Forgotten browsers stay in the figures without their names.
    await fetch(`${demo().url}/w/visitors/${b1.visitor}/forget`, { method: 'POST' })
    expect(await counts(id)).toEqual({ a: [2, 0], b: [2, 2] })
  })
  it('begins anew with another text, and ends when one is kept', async () => {
    const { id, definition, save, publish, revision } = await two()
    const live = async (d: PointDefinition, r: number) => (await publish((await save(d, r)).revision)).status
    const before = (await experimentView(id)).experiment
    expect(await live({ ...definition, variants: [{ ...definition.variants[0]!, title: 'Third' }] }, revision)).toBe(200)
    const after = await experimentView(id)
    expect(after.experiment).not.toBe(before)
    expect(after.variants.map(w => w.seen)).toEqual([0, 0])
    expect(await live({ ...definition, variants: [] }, revision + 1)).toBe(200)
    expect((await experimentView(id)).experiment).toBeNull()
  })
  it('does not go live where two say the same, or one says nothing', async () => {
    const { definition, save, publish, revision } = await two()
    const same = await save(
      {
        ...definition,
        variants: [
          {
            key: 'b',
            title: definition.title,
            intro: definition.intro,
            button: definition.button,
            invitation: definition.display.invitation,
            open: definition.display.open,
          },
        ],
      },
      revision,
    )
    expect((await publish(same.revision)).body.errors!.map(e => e.field)).toEqual(['variants.0.title'])
    const empty = await save({ ...definition, variants: [{ ...definition.variants[0]!, button: ' ' }] }, same.revision)
    expect((await publish(empty.revision)).body.errors!.map(e => e.field)).toEqual(['variants.0.button'])
  })
})

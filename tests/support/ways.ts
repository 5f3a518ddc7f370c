import { receive } from '#server/capture/receive'
import { blankDefinition, type PointDefinition } from '#core/points/definition'
import { typedInto } from '#core/unfinished/typed'
import type { Sql } from '#db/client'
import { addPoint, pointByKey, publish } from '#db/points'
import { accept } from '#server/ingest/entries'
import { retried } from '#server/ingest/micro-batcher'
import { newId } from '#server/ids'
import { readRuleset } from '#server/ruleset'
import { takeTrail } from '#server/trail/take'
import { takeTyped } from '#server/unfinished/take'
import { vi } from 'vitest'
import { q } from './forms'

/** The ways that visitors have to a changed lead, at so many minutes after a start; the clock is set on for each. */
export function ways(database: () => Sql, START: number) {
  async function live(key: string, change: (d: PointDefinition) => void): Promise<void> {
    const definition = blankDefinition(key)
    definition.questions = [
      q('mail', 'email', { property: 'email', required: key !== 'form_phone' }),
      q('first', 'short_text', { property: 'first_name' }),
      q('sector', 'one_of', {
        property: 'sector',
        choices: [
          { value: 'school', text: 'School', tag: 'hot' },
          { value: 'private', text: 'Private' },
        ],
      }),
      q('tel', 'phone', { property: 'phone' }),
      q('words', 'long_text', { property: 'message', onDifference: 'add' }),
      q('news', 'consent', { label: 'Write to me.', allows: ['journal'] }),
    ]
    change(definition)
    const id = newId(START)
    await addPoint(database(), { id, key, slug: key.replace('_', '-'), name: key, kind: 'form', workingCopy: definition })
    await publish(database(), { id, revision: 1, edition: newId(START), by: null, at: new Date(START) })
  }

  /** Goes on so many minutes after the start. */
  const at = (minutes: number) => {
    vi.setSystemTime(START + minutes * 60_000)
    return START + minutes * 60_000
  }
  async function enter(
    key: string,
    answers: Record<string, string>,
    minutes: number,
    more: { visitor?: string; unfinished?: string; key?: string; mails?: boolean; via?: 'archive' } = {},
  ) {
    const { intake, flaws } = receive(
      (await pointByKey(database(), key))!,
      { answers, visitor: more.visitor ?? null, unfinished: more.unfinished ?? null, via: more.via ?? 'program' },
      more.key ?? null,
      at(minutes),
    )
    if (!intake) throw new Error(JSON.stringify(flaws))
    return (
      await retried(() => database().begin(async tx => accept(tx, await readRuleset(tx), [intake], { mails: more.mails ?? true })))
    )[0]!
  }
  async function entered(...given: Parameters<typeof enter>): Promise<{ lead: string; entry: string }> {
    const result = await enter(...given)
    if (result.kind !== 'accepted') throw new Error(result.kind)
    return { lead: result.now.lead.id, entry: result.entry }
  }
  async function reads(visitor: string, minutes: number, events: { kind: 'page' | 'event'; path: string; name?: string }[]): Promise<void> {
    const when = at(minutes)
    const visit = {
      id: visitor.replace(/^./, c => (c === 'a' ? 'b' : 'a')),
      visitor,
      site: 'https://site.example',
      referrer: null,
      utm: {},
      source: 'direct',
      language: null,
      device: 'phone' as const,
      place: null,
      robot: false,
    }
    const done = events.map((e, i) => ({
      kind: e.kind,
      at: when + i * 1000,
      path: e.path,
      title: e.kind === 'page' ? `Title of ${e.path}` : null,
      data: e.name ? { name: e.name } : null,
    }))
    await database().begin(async tx =>
      takeTrail(tx, await readRuleset(tx), [{ id: newId(when), visit, events: done as never }], new Map(), new Date(when)),
    )
  }
  const types = async (id: string, visitor: string, minutes: number, answers: Record<string, string>, turn: number) => {
    const when = at(minutes)
    const point = (await pointByKey(database(), 'form_plain'))!
    const ruleset = await readRuleset(database())
    const typed = typedInto(point.live!.definition.questions, answers, Object.keys(answers), ruleset.properties, ruleset.reading)
    return await database().begin(async tx =>
      takeTyped(
        tx,
        await readRuleset(tx),
        {
          id,
          visitor,
          point: point.id,
          edition: 1,
          form: null,
          began: new Date(when),
          at: new Date(when),
          answers: typed.answers,
          page: 'https://site.example/',
          turn,
          sent: false,
        },
        typed,
      ),
    )
  }
  return { live, at, enter, entered, reads, types }
}

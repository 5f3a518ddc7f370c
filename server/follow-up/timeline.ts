import { changesIn } from '#core/events/event'
import type { Names, Told } from '#core/events/kind'
import { kindNamed } from '#core/events/registry'
import type { EntrySent } from '#core/events/kinds/entry'
import { answerText } from '#core/points/definition'
import type { Property } from '#core/properties/kinds'
import { money } from '#core/properties/text'
import { BESIDE, type BesidePayloads, type TimelineLine } from '#core/timeline'
import { foldVisit } from '#core/trail/visits'
import { answersOfEntries, type EntryAnswers } from '#db/entries'
import type { Db } from '#db/client'
import { timelineOf, type TimelineRow } from '#db/timeline'
import { answersBy } from '#server/follow-up/answers'
import type { Ruleset } from '#server/ruleset'

/**
 * A lead's timeline as the team reads it, newest first: what an event changed stands in lines of its own, entries say what was
 * answered, and each line has its sentence.
 * @param before only what is older than this
 */
export async function timelineFor(db: Db, ruleset: Ruleset, lead: string, before: Date | null, most: number): Promise<TimelineLine[]> {
  const rows = await timelineOf(db, lead, before, most)
  const entries = await answersOfEntries(
    db,
    rows.flatMap(row => (row.kind === 'event' && isEntry(row.payload.changes.entry) ? row.payload.changes.entry.entry : [])),
  )
  const names = namesOf(ruleset)
  return rows.flatMap(row =>
    row.kind === 'event'
      ? eventLines(row, { names, actor: row.actor, cause: row.payload.cause }, entries)
      : besideLine(row, ruleset.properties),
  )
}

const isEntry = (payload: unknown): payload is EntrySent => typeof (payload as EntrySent | undefined)?.entry === 'string'

/** What an event changed, the last first. */
function eventLines(
  { id, at, actor, payload }: Extract<TimelineRow, { kind: 'event' }>,
  told: Told,
  entries: Map<string, EntryAnswers>,
): TimelineLine[] {
  return changesIn(payload.changes)
    .reverse()
    .map(({ kind, payload: change }) => {
      const own =
        kind === 'entry'
          ? withEntry(change as EntrySent, entries)
          : kind === 'note'
            ? { ...change, by: payload.by ?? null, of: id, versions: payload.versions ?? [] }
            : change
      return {
        id: `${id} ${kind}`,
        at: at.toISOString(),
        kind,
        actor,
        ...(payload.undone && { undone: true }),
        sentence: kindNamed(kind)!.sentence(own, told),
        payload: own,
      } as TimelineLine
    })
}

/** What somebody came to, with the marks where there were any. */
const outcomeText = ({ title, earned, possible }: NonNullable<EntryAnswers['outcome']>): string =>
  possible ? `${title}, ${earned / 100} of ${possible / 100} points` : title

/** What an entry's event says, with what stands in the entry itself. */
function withEntry(sent: EntrySent, entries: Map<string, EntryAnswers>) {
  const entry = entries.get(sent.entry)
  return {
    ...sent,
    ...(entry && {
      point: entry.point,
      edition: entry.edition,
      page: entry.page,
      ...(entry.outcome && { outcome: outcomeText(entry.outcome) }),
    }),
    answers: entry ? (entry.firstAnswers ?? answersBy(entry)) : [],
  }
}

/** A visit stands in the timeline with its pages, what was typed with the words of its questions. */
function besideLine({ id, at, actor, ...row }: Exclude<TimelineRow, { kind: 'event' }>, properties: Property[]): TimelineLine {
  const line = <K extends keyof BesidePayloads>(kind: K, payload: BesidePayloads[K]) =>
    ({ id, at: at.toISOString(), kind, actor, sentence: BESIDE[kind](payload), payload }) as TimelineLine
  switch (row.kind) {
    case 'visit': {
      const { trail, ...visit } = row.payload
      return line('visit', { ...visit, pages: foldVisit(trail) })
    }
    case 'unfinished': {
      const { definition, answers, ...rest } = row.payload
      const asked = (key: string) => definition?.find(q => q.key === key)
      const order = (key: string) => (definition ?? []).findIndex(q => q.key === key)
      const inWords = Object.entries(answers)
        .sort(([a], [b]) => order(a) - order(b))
        .map(([key, answer]) => ({
          question: asked(key)?.label ?? properties.find(p => p.key === key)?.label ?? key,
          text: asked(key) ? answerText(asked(key)!, answer) : [answer].flat().join(', '),
        }))
      return line('unfinished', { ...rest, answers: inWords })
    }
    case 'mailed':
      return line('mailed', row.payload)
    case 'announced':
      return line('announced', row.payload)
  }
}

/** What sentences call things by, as the house calls them now. */
export const namesOf = (ruleset: Ruleset): Names => ({
  member: id => ruleset.members.get(id ?? '')?.name ?? 'somebody who has left',
  label: key =>
    key === null ? 'No label' : ((ruleset.labels.find(l => l.key === key) ?? ruleset.joinedLabels?.find(l => l.key === key))?.name ?? key),
  status: key => [...ruleset.statuses, ...(ruleset.joinedStatuses ?? [])].find(s => s.key === key)?.name ?? key,
  list: id => ruleset.lists.find(l => l.id === id)?.name ?? null,
  money: amount => money(amount, ruleset.house.currency),
  property: key => ruleset.properties.find(p => p.key === key)?.label ?? key,
})

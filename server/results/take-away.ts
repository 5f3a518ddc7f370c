import { DateTime } from 'luxon'
import { answerText, type Answers, type Question } from '#core/points/definition'
import type { Passing, Results } from '#core/results/results'
import { withMade } from '#core/results/of-quiz'
import { sourceOf } from '#core/figures/facets'
import { allRespondents, type Entries, type Respondent } from '#db/results'
import type { Sql } from '#db/client'
import { ownAddress } from '#server/settings'
import type { Ruleset } from '#server/ruleset'
import type { Cell, Sheet } from '#server/take-away/sheet'

/** How the groups that stand side by side are called. */
export const GROUPS = ['first', 'second']

/** The figures of some results, line by line, as one reads them aloud. */
export function figuresSheet({ all, looks, medianMs, days, pages, editions }: Results, group = ''): Sheet {
  const hasNameless = all.nameless > 0
  const counts = ({ seen, begun, sent, nameless }: Passing): Cell[] => [
    ...(looks ? [seen, begun] : [null, null]),
    ...(hasNameless ? [sent + nameless] : []),
    sent,
  ]
  const rows: Cell[][] = [
    ['In all', '', ...counts(all)],
    ...(medianMs === null ? [] : [['Half took no longer than', `${Math.round(medianMs / 1000)} s`]]),
    ...days.map(d => ['Day', d.day, ...counts(d)]),
    ...pages.map(p => ['Page', p.page, ...counts(p)]),
    ...editions.map(e => ['Edition', String(e.edition), ...counts(e)]),
  ]
  return {
    name: `Figures${group}`,
    columns: ['What', 'Which', 'Seen', 'Begun', ...(hasNameless ? ['Finished', 'Left an address'] : ['Sent'])],
    rows,
  }
}

export const stopsSheet = ({ stops }: Results, group = ''): Sheet => ({
  name: `Where they stopped${group}`,
  columns: ['Question', 'Came past it', 'Left at it'],
  rows: stops.map(s => [s.label, s.reached, s.stopped]),
})

/** Answers as they were counted. */
export const answersSheet = ({ answers }: Results, group = ''): Sheet => ({
  name: `Answers${group}`,
  columns: ['Question', 'Answer', 'How often'],
  rows: answers.flatMap(a => [[a.label, '(answered)', a.answered], ...a.rows.map(r => [a.label, r.text, r.n])] as Cell[][]),
})

const saidIn = (answers: Answers, q: Question): Cell => (answers[q.key] === undefined ? null : answerText(q, answers[q.key]!))

/** Who answered, a row each, with their answers in the words of the house; read while it is sent. Of several groups each row says its own. */
export function respondentsSheet(sql: Sql, groups: Entries[], questions: Question[], { labels }: Ruleset): Sheet {
  const labelName = (key: string | null) => labels.find(l => l.key === key)?.name ?? key
  async function* rows(): AsyncGenerator<Cell[]> {
    for (const [i, of] of groups.entries())
      for await (const some of allRespondents(sql, of))
        for (const r of some) yield [...(groups.length > 1 ? [GROUPS[i]!] : []), ...rowOf(r, of)]
  }
  const rowOf = (r: Respondent, of: Entries): Cell[] => [
    DateTime.fromJSDate(r.at, { zone: of.zone }).toFormat('yyyy-MM-dd HH:mm'),
    r.email,
    r.firstName,
    r.lastName,
    r.company,
    labelName(r.label),
    ...questions.map(q => saidIn(withMade(r.answers, r.judged), q)),
    r.page,
    sourceOf(r.utm, r.referrer),
    r.landingName,
    r.edition,
    r.tookMs === null ? null : Math.round(r.tookMs / 1000),
    `${ownAddress()}/follow-up/leads/${r.leadId}`,
  ]
  const columns = [
    ...(groups.length > 1 ? ['Group'] : []),
    'Sent',
    'E-mail',
    'First name',
    'Last name',
    'Company',
    'Label',
    ...questions.map(q => q.label),
    'Page',
    'Came from',
    'Landing page',
    'Edition',
    'Seconds',
    'In Cavlin',
  ]
  return { name: 'Entries', columns, rows: rows() }
}

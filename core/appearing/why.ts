import type { DisplayRules, Moment } from '#core/appearing/definition'
import type { Memory, Situation, Verdict } from '#core/appearing/decide'
import { inWords, type Names } from '#core/conditions/words'
import { isUninvited } from '#core/appearing/definition'

/** A rule, whether it holds, what it asks for, and what is. */
export interface Why {
  rule: Verdict['rule']
  holds: boolean
  asks: string
  is: string
}

const TITLES: Record<string, string> = {
  'page.path': 'The path',
  'page.title': 'The title',
  'page.address': 'The address',
  'visitor.returning': 'Was here before',
  'visitor.known': 'Known to us',
  answered: 'Answered it already',
  'visit.source': 'Came from',
  'visit.device': 'Device',
  'visit.language': 'Language',
  label: 'Label',
  tag: 'Tag',
  list: 'List',
  status: 'Status',
}
const PLAIN: Names = {
  attribute: name => (name.startsWith('page.query.') ? `Parameter ${name.slice(11)}` : (TITLES[name] ?? name)),
  value: (_attribute, value) => `“${value}”`,
}
const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

function momentWords(m: Moment): string {
  switch (m.kind) {
    case 'seconds':
      return `${m.n} s on the page`
    case 'scrolled':
      return `scrolled to ${m.n}%`
    case 'leaving':
      return 'about to leave'
    case 'pages':
      return `${m.n} pages in the visit`
    case 'idle':
      return `${m.n} s without doing anything`
    case 'click':
      return `a click on ${m.what}`
    case 'event':
      return `the event “${m.what}”`
  }
}

/** Verdicts in words. @param names how attributes and values are called, where the plain words are not enough */
export function whys(verdicts: Verdict[], a: Omit<DisplayRules, 'on'>, s: Situation, memory: Memory, names: Names = PLAIN): Why[] {
  const words: Record<Verdict['rule'], [asks: string, is: string]> = {
    pages: [a.pages ? inWords(a.pages, names) : 'any page', s.page.path],
    except: [a.except ? `not where ${inWords(a.except, names)}` : 'no exceptions', s.page.path],
    moment: [
      a.moments.map(momentWords).join(a.together === 'all' ? ' and ' : ' or ') || 'at once',
      [`${Math.floor(s.seconds)} s`, `scrolled ${s.scrolled}%`, `page ${s.pages}`, ...(s.leaving ? ['about to leave'] : [])].join(', '),
    ],
    audience: [
      a.audience ? inWords(a.audience, names) : 'everybody',
      `${s.visitor.returning ? 'was here before' : 'new here'}, from ${s.visitor.source}, ${s.visitor.device}`,
    ],
    period: [periodWords(a), `${WEEKDAYS[s.weekday - 1] ?? ''} ${s.day}, ${s.hour} o’clock`],
    rest: [
      isUninvited(a.placement)
        ? `${a.rest.closed} days after closing, ${a.rest.answered === null ? 'not again once answered' : `${a.rest.answered} days after an answer`}, ${a.rest.perVisit} a visit`
        : 'never: it was asked for',
      memory.answeredAt
        ? 'answered before'
        : memory.closedAt
          ? 'closed before'
          : memory.shown
            ? `shown ${memory.shown} times in this visit`
            : 'not shown yet',
    ],
    small: [a.small || !isUninvited(a.placement) ? 'any screen' : 'not on small screens', s.small ? 'a small screen' : 'a large screen'],
    typing: [isUninvited(a.placement) ? 'nobody is interrupted while typing' : 'any time', s.typing ? 'typing' : 'not typing'],
  }
  return verdicts.map(({ rule, holds }) => ({ rule, holds, asks: words[rule][0], is: words[rule][1] }))
}

function periodWords({ period: { from, until, days, hours } }: Omit<DisplayRules, 'on'>): string {
  return (
    [
      from && `from ${from}`,
      until && `until ${until}`,
      days.length && days.map(d => WEEKDAYS[d - 1]).join(', '),
      hours && `from ${hours[0]} until ${hours[1]} o’clock`,
    ]
      .filter(Boolean)
      .join(', ') || 'always'
  )
}

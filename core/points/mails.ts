import Mustache from 'mustache'
import { mailsOf } from '#core/actions/edit'
import type { SendMail } from '#core/actions/kinds/mail/shape'
import type { Case } from '#core/capture/case'
import { nameOf } from '#core/leads/lead'
import { sayIn, type Say } from '#core/languages/say'
import { mailLook } from '#core/mails/look'
import { asMarkdown, partsOf } from '#core/mails/template'
import { answerText, type PointDefinition } from '#core/points/definition'
import { inTongue } from '#core/points/translations'
import type { Confirmation } from '#core/points/shapes/rules'
import type { Reminder } from '#core/points/reminder'
import type { Sign, Written } from '#core/points/written'
import type { Judged } from '#core/quiz/judge'
import { answerLines } from '#core/quiz/review'
import { cut, hasAddress, oneLine, unlinked } from '#core/text'

export type Mail = SendMail
export type { Confirmation } from '#core/points/shapes/rules'
export type { Goal } from '#core/points/shapes/next'

const DAY = 86_400_000

/** What placeholders stand for: `{{lead.first_name}}`, `{{answer.size}}`, `{{point.title}}`, `{{link}}`, and the signed addresses to come `{{again}}`, known, or to `{{correct}}` the entry. */
export interface Attributes {
  lead: Record<string, string>
  answer: Record<string, string>
  point: Record<string, string>
  link: string
  again: string
  correct: string
  /** What a quiz came to: its `title` and `text`, `points` of how many (`possible`), and all `answers`, a line each. */
  quiz: Record<string, string>
}

/** Fills placeholders in (Mustache). Unknown ones become nothing; nothing is escaped, for the result is text. @throws when the text is no template */
export const fillIn = (template: string, attributes: Attributes): string =>
  Mustache.render(template, attributes, {}, { escape: text => String(text) })

/** What somebody typed takes up so much of a mail in the firm's name, and of its subject. */
const MOST = { name: 60, answer: 600, subject: 80 }

/** Attributes with what was typed cut short and with nothing in it that mail programs turn into a link; our own addresses stay whole. */
function typedShort(attributes: Attributes, change: (typed: string, most: number) => string): Attributes {
  const all = (texts: Record<string, string>, most: number) =>
    Object.fromEntries(Object.entries(texts).map(([key, text]) => [key, change(text, most)]))
  const { email, ...lead } = attributes.lead
  return { ...attributes, lead: { ...all(lead, MOST.name), email: email ?? '' }, answer: all(attributes.answer, MOST.answer) }
}

/** Emphasis around nothing would be signs. */
const EMPHASIS = /(\*{1,3})\{\{([\w.]+)\}\}\1/g
/** Fills the text of a mail to a visitor, which is Markdown: what was typed is text in it, and our own addresses are links. @throws as `fillIn` */
export function fillText(template: string, attributes: Attributes): string {
  const { lead, answer, point, quiz, ...links } = typedShort(attributes, (typed, most) => unlinked(cut(typed, most)))
  const each = <T extends Record<string, string>>(texts: T, change: (text: string) => string) =>
    Object.fromEntries(Object.entries(texts).map(([key, text]) => [key, change(text)])) as T
  return fillIn(template.replace(EMPHASIS, '{{#$2}}$1{{$2}}$1{{/$2}}'), {
    lead: each(lead, asMarkdown),
    answer: each(answer, asMarkdown),
    point: each(point, asMarkdown),
    quiz: { ...each(quiz, asMarkdown), text: quiz.text ?? '', answers: listed(quiz.answers ?? '') },
    ...each(links, url => url && `<${url}>`),
  })
}

/** Lines as a list, each cut short and with nothing in it that would be a link. */
const listed = (lines: string): string =>
  lines &&
  lines
    .split('\n')
    .map(line => `- ${asMarkdown(unlinked(cut(line, MOST.answer)))}`)
    .join('\n')

/** Fills the subject of a mail to a visitor, in one line: of what was typed at most 80 letters, and nothing with an address in it. @throws as `fillIn` */
export const fillSubject = (template: string, attributes: Attributes): string =>
  begun(
    oneLine(
      fillIn(
        template,
        typedShort({ ...attributes, lead: { ...attributes.lead, email: '' } }, (typed, most) =>
          hasAddress(typed) ? '' : cut(oneLine(typed, 1000), Math.min(most, MOST.subject)),
        ),
      ),
      300,
    ),
  )

/** What begins with the name of nobody would begin with a comma. */
const begun = (line: string): string => line.replace(/^[\s,;:]+(.)/u, (_, first: string) => first.toUpperCase())

/** The names of the placeholders in a text; null when it is no template. */
export function placeholdersIn(template: string): string[] | null {
  try {
    const names = (tokens: unknown[]): string[] =>
      (tokens as [string, string, number, number, unknown[]?][]).flatMap(([type, name, , , inner]) =>
        type === 'text' || type === '!' ? [] : [name, ...names(inner ?? [])],
      )
    return names(Mustache.parse(template))
  } catch {
    return null
  }
}

/** Which template it is: that decides what it may name. */
export type TemplateOf = 'confirm' | 'reminder' | 'mail' | 'mail with goal' | 'inside' | 'result'
/** Something that a template may name, and how people call it. */
export interface Place {
  name: string
  label: string
  group: string
  isLink: boolean
}

const LINKS: Partial<Record<TemplateOf, string>> = {
  confirm: 'The link to confirm',
  reminder: 'The link to the form',
  'mail with goal': 'The link of this mail',
}

/** What a template may name; a link only where there is one to follow, those to come back and to correct only in mails to visitors. */
export function placesFor(d: Pick<PointDefinition, 'questions' | 'quiz'>, kind: TemplateOf): Place[] {
  const named = (group: string, names: Record<string, string>, isLink = false) =>
    Object.entries(names).map(([name, label]) => ({ name, label, group, isLink }))
  const link = LINKS[kind]
  return [
    ...named('The person', {
      'lead.first_name': 'First name',
      'lead.last_name': 'Last name',
      'lead.name': 'Whole name',
      'lead.company': 'Company',
      ...(kind !== 'result' && { 'lead.email': 'E-mail address' }),
    }),
    ...(link ? named('Links', { link }, true) : []),
    ...(kind.startsWith('mail')
      ? named('Links', { again: 'A link to come back, known', correct: 'A link to correct the entry' }, true)
      : []),
    ...(d.quiz && kind !== 'reminder'
      ? named('Their result', {
          ...(kind !== 'result' && { 'quiz.title': 'Title of the result', 'quiz.text': 'Text of the result' }),
          ...(d.quiz.kind === 'marks' && { 'quiz.points': 'Points', 'quiz.possible': 'Points there were' }),
          ...(kind !== 'inside' && kind !== 'result' && { 'quiz.answers': 'All their answers' }),
        })
      : []),
    ...named(
      'Their answers',
      Object.fromEntries(d.questions.filter(q => q.kind !== 'consent').map(q => [`answer.${q.key}`, q.label.trim() || q.key])),
    ),
    ...named('This form', { 'point.title': 'Its title', 'point.name': 'What we call it' }),
  ]
}
/** The names of all that a template may name. */
export const knownPlaceholders = (d: Pick<PointDefinition, 'questions' | 'quiz'>, kind: TemplateOf): string[] => [
  ...placesFor(d, kind).map(p => p.name),
  ...d.questions.filter(q => q.kind === 'consent').map(q => `answer.${q.key}`),
]

/** What stays empty for whom it is not known: placeholders for which nothing stands in. */
export const unguardedIn = (template: string): string[] => {
  const all = partsOf(template).filter(p => typeof p !== 'string')
  const asked = new Set(all.flatMap(({ name }) => /^\{\{[#^]\s*([\w.]+)/.exec(name)?.[1] ?? []))
  return all.filter(p => !p.name.startsWith('{{') && !p.fallback && !asked.has(p.name)).map(p => p.name)
}

/** What placeholders stand for in what is written about an entry. */
export function attributesForMails(
  { intake, lead }: Pick<Case, 'intake' | 'lead'>,
  links: Partial<Pick<Attributes, 'link' | 'again' | 'correct'>> = {},
): Attributes {
  return attributesOf(
    intake,
    {
      email: lead.email ?? '',
      first_name: lead.firstName ?? '',
      last_name: lead.lastName ?? '',
      name: nameOf(lead),
      company: lead.company ?? '',
    },
    links,
  )
}

/** The same for whoever may not be who they say: of the person only what this very entry said. */
function attributesOfEntry(
  { intake }: Pick<Case, 'intake'>,
  recipient: string,
  links: Partial<Pick<Attributes, 'link' | 'again' | 'correct'>>,
): Attributes {
  const said = (property: string) =>
    [intake.values[intake.edition.definition.questions.find(q => q.property === property)?.key ?? ''] ?? ''].flat().join(', ')
  const [first, last] = [said('first_name'), said('last_name')]
  return attributesOf(
    intake,
    { email: recipient, first_name: first, last_name: last, name: [first, last].filter(Boolean).join(' '), company: said('company') },
    links,
  )
}

/** The edition in the words that were shown. */
const spoken = ({ edition, language }: Case['intake']): PointDefinition => inTongue(edition.definition, language)

function attributesOf(
  intake: Case['intake'],
  lead: Attributes['lead'],
  links: Partial<Pick<Attributes, 'link' | 'again' | 'correct'>>,
): Attributes {
  const { questions, title } = spoken(intake)
  const { language } = intake
  return {
    lead,
    answer: Object.fromEntries(
      questions.flatMap(q => (intake.answers[q.key] === undefined ? [] : [[q.key, answerText(q, intake.answers[q.key]!, language)]])),
    ),
    point: { name: intake.point.name, title },
    quiz: quizTexts(spoken(intake), intake),
    link: '',
    again: '',
    correct: '',
    ...links,
  }
}

/**
 * What the text of a result may name: what these very answers say, and nothing that we know beside them of whoever gives such a name.
 * @param named what the form is called by us
 */
export function attributesOfAnswers(
  d: PointDefinition,
  { judged, answers }: Pick<Case['intake'], 'answers'> & { judged: Judged | null },
  named = '',
): Attributes {
  const said = (property: string) => [answers[d.questions.find(q => q.property === property)?.key ?? ''] ?? ''].flat().join(', ')
  const [first, last] = [said('first_name'), said('last_name')]
  return {
    lead: { email: '', first_name: first, last_name: last, name: [first, last].filter(Boolean).join(' '), company: said('company') },
    answer: Object.fromEntries(
      d.questions.flatMap(q => (answers[q.key] === undefined ? [] : [[q.key, answerText(q, answers[q.key]!, d.language)]])),
    ),
    point: { name: named, title: d.title },
    link: '',
    again: '',
    correct: '',
    quiz: judged ? { points: String(judged.earned / 100), possible: String(judged.possible / 100) } : {},
  }
}

/** The text of a result with its placeholders filled in, as Markdown; as it is where it is no template. */
export function resultText(d: PointDefinition, text: string, said: Parameters<typeof attributesOfAnswers>[1]): string {
  if (!text.includes('{{')) return text
  try {
    return fillText(text, attributesOfAnswers(d, said))
  } catch {
    return text
  }
}

/** What a quiz came to, in words. */
export function quizTexts(
  d: PointDefinition,
  { judged, answers, language }: Pick<Case['intake'], 'judged' | 'answers' | 'language'>,
): Attributes['quiz'] {
  const result = judged && d.quiz?.results.find(r => r.key === judged.result)
  if (!judged || !result) return {}
  return {
    title: result.title,
    text: resultText(d, result.text, { judged, answers }),
    points: String(judged.earned / 100),
    possible: String(judged.possible / 100),
    answers: answerLines(d, answers, sayIn(language)).join('\n'),
  }
}

/** What a claimed address gets, and nothing else: the one question whether it is theirs, which names it. Nothing of it was typed by anybody but the address. */
const claimMail = (say: Say) => ({
  subject: say('claimSubject'),
  text: say('claimText', { point: '{{point.title}}', address: '{{lead.email}}', link: '{{link}}' }),
})

/** Whether what follows an entry waits until an address is confirmed. */
const waits = ({ intake, lead, claim }: Case): boolean =>
  claim !== null || (intake.edition.definition.confirm !== null && lead.confirmedAt === null)

/**
 * The request to confirm the address of an entry, where it is asked for; until then the mails of the entry wait. So it is with
 * an address that is only claimed.
 * @param sign the signed addresses that stand in mails
 */
export function writeConfirmation(now: Case, newId: (at: number) => string, sign: Sign): Written | null {
  const { intake, lead, claim, recipient } = now
  const { confirm } = spoken(intake)
  if (recipient === null) return null
  const ask = claim
    ? !claim.wasAsked && (confirm || mailsOf(intake.edition.definition).length)
      ? claimMail(sayIn(intake.language))
      : null
    : lead.confirmedAt === null
      ? confirm
      : null
  return ask && write(now, recipient, 'confirm', { ...ask, days: 0, goal: null, unlessClicked: false }, intake.at, newId, sign)
}

/** A mail that follows an entry, to whom it goes being settled now; null for who has left, and did not ask for it with this entry. */
export function writeMail(now: Case, mail: Mail, newId: (at: number) => string, sign: Sign): Written | null {
  const { intake, lead, recipient } = now
  if (recipient === null || (mail.days > 0 && lead.unsubscribedAt !== null)) return null
  const { subject, text } = mailsOf(spoken(intake)).find(m => m.key === mail.key) ?? mail
  return write(now, recipient, 'mail', { ...mail, subject, text }, waits(now) ? null : intake.at + mail.days * DAY, newId, sign)
}

function write(
  now: Case,
  recipient: string,
  kind: Written['kind'],
  mail: Pick<Mail, 'subject' | 'text' | 'days' | 'goal' | 'unlessClicked'>,
  due: number | null,
  newId: (at: number) => string,
  sign: Sign,
): Written {
  const { intake, lead, claim } = now
  const { subject, text, days, goal, unlessClicked } = mail
  const { name, reply } = intake.edition.definition.mailing
  const id = newId(intake.at)
  const guarded = claim !== null || lead.guardedAt !== null
  const links = {
    link: kind === 'confirm' ? sign.act('confirm', id) : goal ? sign.act('follow', id) : '',
    again: sign.again(intake.point.slug, guarded ? null : lead.id),
    correct: sign.act('correct', intake.entryId),
  }
  const attributes = guarded ? attributesOfEntry(now, recipient, links) : attributesForMails(now, links)
  return {
    id,
    kind,
    recipient,
    claim: claim?.id ?? null,
    subject: fillSubject(subject, attributes).slice(0, 300),
    text: fillText(text, attributes),
    look: mailLook(intake.edition.definition.theme, intake.language),
    days,
    due,
    goal,
    unlessClicked,
    from: { name, reply },
  }
}

/** How a mail begins: whom we know by no name is greeted all the same. */
export const HELLO = 'Hello {{lead.first_name}}{{^lead.first_name}}there{{/lead.first_name}},'
/** A request to confirm to begin with. */
export const firstConfirmation = (): Confirmation => ({
  subject: 'Is this address yours, {{lead.name}}?',
  text: `${HELLO}\n\nplease confirm that this address is yours:\n\n{{link}}\n\nUntil then we send you nothing.`,
  done: 'Thank you. The rest is on its way.',
  then: { kind: 'message' },
})
/** A reminder to begin with. */
export const firstReminder = (): Reminder => ({
  hours: 24,
  subject: '{{lead.first_name}}, shall we keep it for you?',
  text: `${HELLO}\n\nyou began “{{point.title}}” and did not send it. If you want to go on:\n\n{{link}}\n\nIf not, do nothing; we do not write again about it.`,
})
/** A mail to begin with: the thanks, or some days later. */
export const firstMail = (later: boolean): Omit<Mail, 'key' | 'kind'> => ({
  subject: later ? '{{lead.first_name}}, may we ask?' : 'Thank you, {{lead.first_name}}',
  text: `${HELLO}\n\n${later ? 'some days ago you wrote to us. Is there anything we can tell you?' : 'thank you. We have it, and one of us writes to you soon.'}`,
  days: later ? 5 : 0,
  goal: null,
  unlessClicked: false,
  when: null,
})

/** What is wrong with a text to visitors: no subject, or placeholders that stand for nothing. @param kind what it is decides what it may name */
export function textFlaws(
  d: PointDefinition,
  { name, kind, text }: { name: string; kind: TemplateOf; text: { subject: string; text: string } },
) {
  const found: { field: string; message: string; mend?: { name: string; apply: (definition: PointDefinition) => PointDefinition } }[] = []
  if (!text.subject.trim()) found.push({ field: 'subject', message: `${name} has no subject.` })
  if (!text.text.trim()) found.push({ field: 'text', message: `${name} has no text.` })
  const used = placeholdersIn(`${text.subject}\n${text.text}`)
  const strange = used?.find(p => !knownPlaceholders(d, kind).includes(p))
  if (used === null)
    found.push({ field: 'text', message: `${name} has a placeholder that is not closed: two braces open it, and two close it.` })
  else if (used.includes('correct') && !d.returns.correct) {
    const mend = { name: 'Let them be corrected', apply: (o: PointDefinition) => ({ ...o, returns: { ...o.returns, correct: true } }) }
    found.push({ field: 'text', message: `${name} has a link to correct the entry, and entries may not be corrected.`, mend })
  } else if (strange !== undefined)
    found.push({ field: 'text', message: `${name} has a placeholder “${strange}”, which stands for nothing.` })
  else if (kind === 'confirm' && !used.includes('link')) {
    const mend = {
      name: 'Add the link',
      apply: (o: PointDefinition) => ({ ...o, confirm: o.confirm && { ...o.confirm, text: `${o.confirm.text.trimEnd()}\n\n{{link}}` } }),
    }
    found.push({ field: 'text', message: 'The request to confirm has no link: nobody could confirm.', mend })
  }
  return found
}

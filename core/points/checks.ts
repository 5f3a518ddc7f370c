import { applying, hasInvitation, isUninvited, type DisplayRules } from '#core/appearing/definition'
import { attributesIn, type Condition } from '#core/conditions/condition'
import type { SentFile } from '#core/files/kinds'
import { BY_EMAIL, isByEmail } from '#core/identity/same-person'
import { asksForGone } from '#core/actions/only-if'
import { addedAction, mailsOf } from '#core/actions/edit'
import { flawsOf } from '#core/actions/registry'
import { fills } from '#core/properties/kinds'
import { blankQuestion, choicesOf, freshKey, pagesOf, type PointDefinition, type Question } from '#core/points/definition'
import { LANGUAGES } from '#core/languages/language'
import { inTongue, untranslated } from '#core/points/translations'
import type { Check, FrameName } from '#core/points/check'
import { firstMail, placeholdersIn, textFlaws, unguardedIn } from '#core/points/mails'
import { contrast, themeFiles } from '#core/points/theme'
import { nameFlaw, type Surroundings } from '#core/points/surroundings'
import { variantsOf, type Variant } from '#core/points/variants'
import { chatChecks, takesIn } from '#core/chat/point-checks'
import { quizHints, quizStops } from '#core/quiz/checks'

export type { Surroundings } from '#core/points/surroundings'

export type { Check, FrameName } from '#core/points/check'

/** What is wrong in another language and not in its own, such as a request to confirm without its link. */
function translated(definition: PointDefinition, around: Surroundings): Check[] {
  const own = new Set(ownStops(definition, around).map(s => s.message))
  return definition.translations.flatMap(({ key }) =>
    ownStops(inTongue(definition, key), around)
      .filter(s => !own.has(s.message))
      .map(({ level, message }) => ({
        level,
        frame: 'theme' as const,
        field: `translations.${key}`,
        message: `In ${LANGUAGES[key]}: ${message}`,
      })),
  )
}

/** Everything wrong or doubtful in a working copy, stops first. */
export function checksOf(definition: PointDefinition, around: Surroundings): Check[] {
  return [...stops(definition, around), ...hints(definition, around)]
}

/** An experiment compares texts that differ, each of them whole. */
function variantStops(definition: PointDefinition): Check[] {
  const texts = (w: Variant) => JSON.stringify([w.title, w.intro, w.button, w.invitation, w.open].map(t => t.trim()))
  const all = variantsOf(definition)
  return definition.variants.flatMap((w, i): Check[] => {
    const stop = (field: string, message: string): Check[] => [
      { level: 'stop', frame: 'questions', field: `variants.${i}.${field}`, message },
    ]
    const called = `Wording ${w.key.toUpperCase()}`
    if (!w.title.trim()) return stop('title', `${called} has no title.`)
    if (!w.button.trim()) return stop('button', `The button of wording ${w.key.toUpperCase()} has no text.`)
    const twin = all.slice(0, i + 1).find(o => texts(o) === texts(w))
    return twin ? stop('title', `${called} says the same as wording ${twin.key.toUpperCase()}: there is nothing to compare.`) : []
  })
}

/** What keeps a working copy from going live. Empty when it may. */
export const stops = (definition: PointDefinition, around: Surroundings): Check[] => [
  ...ownStops(definition, around),
  ...translated(definition, around),
]

function ownStops(definition: PointDefinition, around: Surroundings): Check[] {
  const found: Check[] = []
  const say = (frame: FrameName, field: string, message: string, mend?: Check['mend']) =>
    found.push({ level: 'stop', frame, field, message, ...(mend && { mend }) })
  const { quiz, chat } = definition
  chatChecks(definition, around)
    .filter(c => c.level === 'stop')
    .forEach(c => say('questions', c.field, c.message))
  if (quiz) quizStops(definition).forEach(c => say(c.frame, c.field, c.message, c.mend))
  if (!definition.title.trim())
    say(
      'questions',
      'title',
      chat
        ? 'The chat has no title: it stands above the window.'
        : quiz
          ? 'The quiz has no title. Say what people learn from it.'
          : 'The form has no title. Say what people get for filling it in.',
    )
  const name = nameFlaw(around)
  if (name) say('questions', 'name', name)
  if (!chat && !definition.button.trim()) say('questions', 'button', 'The button has no text.')
  variantStops(definition).forEach(c => say(c.frame, c.field, c.message))
  if (!chat && (!quiz || quiz.contact === 'after') && !definition.thanks.trim())
    say('thanks', 'thanks', 'There is no thank-you message. Say what happens next.')
  // Who is not taken in need not be known.
  const knows = !chat || takesIn(definition)
  const byEmail = isByEmail(definition.people.same)
  if (knows && !byEmail) samePersonStops(definition, around).forEach(c => say(c.frame, c.field, c.message, c.mend))
  const at = definition.questions.findIndex(q => q.property === 'email')
  const identifying = definition.questions[at]
  if (knows && byEmail && !identifying)
    say('questions', 'questions', 'Nothing tells us who the person is. Add an e-mail question that fills “Email”.', {
      name: 'Add an e-mail question',
      apply: withEmail,
    })
  else if (knows && byEmail && identifying) {
    if (!identifying.required)
      say('questions', `questions.${at}.required`, 'The e-mail question must be required: without it an entry belongs to nobody.', {
        name: 'Require it',
        apply: d => changed(d, at, { required: true }),
      })
    if (identifying.shownIf)
      say('questions', `questions.${at}.shownIf`, 'The e-mail question must always be asked: without it an entry belongs to nobody.', {
        name: 'Always ask it',
        apply: d => changed(d, at, { shownIf: null }),
      })
    if (identifying.hidden)
      say('questions', `questions.${at}.hidden`, 'The e-mail question must be asked: nobody else knows the address.', {
        name: 'Ask it',
        apply: d => changed(d, at, { hidden: null }),
      })
  }
  definition.questions.forEach((q, i) =>
    questionStops(q, i, definition, around).forEach(c => say('questions', `questions.${i}${c.field}`, c.message, c.mend)),
  )
  if (!quiz && !chat && definition.next.kind === 'address' && !isAddress(definition.next.address))
    say('thanks', 'next.address', 'The address that visitors go on to is not one. It should begin with https://.', {
      name: 'Show the message instead',
      apply: d => ({ ...d, next: { kind: 'message' } }),
    })
  fileStops(definition, around).forEach(c => say(c.frame, c.field, c.message, c.mend))
  const { from, until } = definition.closing
  if (from && until && Date.parse(from) >= Date.parse(until))
    say('where', 'closing.until', 'It would close before it opens.', {
      name: 'Swap the two',
      apply: d => ({ ...d, closing: { ...d.closing, from: until, until: from } }),
    })
  const isHere = (id: string) => !around.members || around.members.includes(id)
  if (!definition.guards.approvers.every(isHere)) {
    const left = {
      name: 'Tell only who is there',
      apply: (d: PointDefinition) => ({ ...d, guards: { ...d.guards, approvers: d.guards.approvers.filter(isHere) } }),
    }
    say('where', 'guards.approvers', 'Somebody who is to be told of held entries is not among us any more.', left)
  }
  if (definition.guards.hold && asksForGone(definition.guards.when ?? null, definition))
    say('where', 'guards.when', 'Which entries are held depends on a question that is not asked any more.', {
      name: 'Hold each entry',
      apply: d => ({ ...d, guards: { ...d.guards, when: null } }),
    })
  definition.guards.origins.forEach((origin, i) => {
    if (!isOrigin(origin))
      say('where', `guards.origins.${i}`, `“${origin}” is not a site. It should look like https://firm.example.`, {
        name: 'Take it out',
        apply: d => ({ ...d, guards: { ...d.guards, origins: d.guards.origins.filter(o => o !== origin) } }),
      })
  })
  appearStops(definition).forEach(c => say(c.field === 'display.open' ? 'invitation' : 'where', c.field, c.message, c.mend))
  mailStops(definition).forEach(c => say('mails', c.field, c.message, c.mend))
  flawsOf(definition, around).forEach(c => say(c.kind === 'mail' ? 'mails' : 'inside', c.field, c.message, c.mend))
  return found
}

const parsed = (text: string) => (URL.canParse(text) ? new URL(text) : null)
export const isAddress = (text: string) => /^https?:$/.test(parsed(text)?.protocol ?? '') && !parsed(text)!.username
const isOrigin = (text: string) => isAddress(text) && parsed(text)!.origin === text.toLowerCase()

/** What keeps somebody from being known by the property or pair that the point names. */
function samePersonStops({ people, questions }: PointDefinition, around: Surroundings): (Own & { frame: FrameName })[] {
  return people.same.flatMap((property): (Own & { frame: FrameName })[] => {
    const label = around.properties.find(p => p.key === property)?.label ?? property
    const i = questions.findIndex(q => q.property === property)
    const q = questions[i]
    const toEmail = {
      name: 'Know them by their e-mail',
      apply: (d: PointDefinition) => ({ ...d, people: { ...d.people, same: BY_EMAIL } }),
    }
    if (!q)
      return [
        {
          frame: 'inside' as const,
          field: 'people.same',
          message: `People are known by “${label}”, and no question asks for it.`,
          mend: toEmail,
        },
      ]
    if (['consent', 'file', 'some_of', 'long_text', 'yes_no'].includes(q.kind))
      return [
        { frame: 'inside' as const, field: 'people.same', message: `“${label}” does not tell one person from another.`, mend: toEmail },
      ]
    if (q.required && !q.shownIf && !q.hidden) return []
    return [
      {
        frame: 'questions' as const,
        field: `questions.${i}.required`,
        message: `“${q.label}” must always be asked and answered: it tells who the person is.`,
        mend: { name: 'Always require it', apply: (d: PointDefinition) => changed(d, i, { required: true, shownIf: null, hidden: null }) },
      },
    ]
  })
}

/** Files that are handed out and are not there. */
function fileStops({ next, confirm, actions, theme }: PointDefinition, { files }: Surroundings): (Own & { frame: FrameName })[] {
  const gone = (file: SentFile | null) => !file || (files && !files.has(file.id))
  const found: (Own & { frame: FrameName })[] = []
  if (next.kind === 'file' && gone(next.file))
    found.push({
      frame: 'thanks',
      field: 'next.file',
      message: 'The file to download is missing. Choose one.',
      mend: { name: 'Show the message only', apply: d => ({ ...d, next: { kind: 'message' } }) },
    })
  if (confirm?.then.kind === 'file' && gone(confirm.then.file))
    found.push({
      frame: 'mails',
      field: 'confirm.then',
      message: 'The file that comes with confirming is missing. Choose one.',
      mend: { name: 'Show the message only', apply: d => ({ ...d, confirm: d.confirm && { ...d.confirm, then: { kind: 'message' } } }) },
    })
  if (confirm?.then.kind === 'address' && !isAddress(confirm.then.address))
    found.push({
      frame: 'mails',
      field: 'confirm.then',
      message: 'The address that people go on to once they have confirmed is not one. It should begin with https://.',
    })
  if (themeFiles(theme).some(gone))
    found.push({
      frame: 'theme',
      field: 'theme',
      message: 'The logo or the picture behind is not there any more. Choose another.',
      mend: { name: 'Take both out', apply: d => ({ ...d, theme: { ...d.theme, logo: null, backdrop: { kind: 'plain' } } }) },
    })
  actions.forEach((l, i) => {
    if (l.kind !== 'mail' || !l.goal) return
    const say = (message: string) => found.push({ frame: 'mails', field: `actions.${i}.goal`, message })
    if (l.goal.kind === 'file' && gone(l.goal.file)) say('The file that a mail’s link leads to is missing. Choose one.')
    if (l.goal.kind === 'address' && !isAddress(l.goal.address))
      say('The address that a mail’s link leads to is not one. It should begin with https://.')
  })
  return found
}

/** What keeps a point from showing as it should. */
function appearStops({ display }: PointDefinition): Own[] {
  if (!display.on) return []
  const found: Own[] = []
  const mended =
    (change: Partial<DisplayRules>) =>
    (d: PointDefinition): PointDefinition => ({ ...d, display: { ...d.display, ...change } })
  applying(display).moments.forEach((m, i) => {
    const without = { name: 'Take this moment out', apply: mended({ moments: display.moments.filter((_, n) => n !== i) }) }
    if ('what' in m && !m.what.replace(/^#$/, '').trim())
      found.push({
        field: `display.moments.${i}`,
        message:
          m.kind === 'click'
            ? 'It waits for a click on nothing. Write which element, like #prices.'
            : 'It waits for an event without a name.',
        mend: without,
      })
  })
  const { from, until, hours } = display.period
  if (from && until && from > until)
    found.push({
      field: 'display.period',
      message: 'It would stop showing before it begins.',
      mend: { name: 'Swap the two days', apply: mended({ period: { ...display.period, from: until, until: from } }) },
    })
  if (hours && hours[0] === hours[1])
    found.push({
      field: 'display.period',
      message: 'The hours at which it shows begin when they end.',
      mend: { name: 'Show it at all hours', apply: mended({ period: { ...display.period, hours: null } }) },
    })
  if (hasInvitation(display.placement) && !display.open.trim())
    found.push({
      field: 'display.open',
      message: 'The button that opens it has no text.',
      mend: { name: 'Call it “Tell me more”', apply: mended({ open: 'Tell me more' }) },
    })
  return found
}

/** What makes a point a nuisance. */
function appearHints({ display }: PointDefinition): Own[] {
  if (!display.on || !isUninvited(display.placement)) return []
  const mended =
    (change: Partial<DisplayRules>) =>
    (d: PointDefinition): PointDefinition => ({ ...d, display: { ...d.display, ...change } })
  const found: Own[] = []
  if (display.placement === 'over' && !display.moments.length)
    found.push({
      field: 'display.moments',
      message: 'It lies over the page before anybody could read a line. Let them begin.',
      mend: { name: 'Wait for 15 seconds', apply: mended({ moments: [{ kind: 'seconds', n: 15 }] }) },
    })
  if (display.small && display.placement === 'over')
    found.push({
      field: 'display.small',
      message: 'On a phone it fills the screen.',
      mend: { name: 'Not on small screens', apply: mended({ small: false }) },
    })
  if (!display.rest.closed)
    found.push({
      field: 'display.rest',
      message: 'Who closes it gets it again on the next visit.',
      mend: { name: 'Stay away for two weeks', apply: mended({ rest: { ...display.rest, closed: 14 } }) },
    })
  return found
}

/** What is wrong with the request to confirm and the reminder; the mails are actions. */
function mailStops(d: PointDefinition): Own[] {
  const texts = [
    ...(d.confirm ? [{ at: 'confirm', name: 'The request to confirm', kind: 'confirm' as const, text: d.confirm }] : []),
    ...(d.reminder ? [{ at: 'reminder', name: 'The reminder', kind: 'reminder' as const, text: d.reminder }] : []),
  ]
  return texts.flatMap(({ at, ...text }) => textFlaws(d, text).map(flaw => ({ ...flaw, field: `${at}.${flaw.field}` })))
}

interface Own {
  field: string
  message: string
  mend?: Check['mend']
}

function questionStops(q: Question, i: number, definition: PointDefinition, around: Surroundings): Own[] {
  const found: Own[] = []
  const say = (field: string, message: string, mend?: Check['mend']) => found.push({ field, message, ...(mend && { mend }) })
  const called = `“${q.label}”`
  if (!q.label.trim()) say('.label', q.kind === 'consent' ? 'A consent question has no words to agree to.' : 'A question has no text.')
  const property = around.properties.find(p => p.key === q.property)
  if (q.property === 'email' && q.kind !== 'email')
    say('.kind', `${called} fills “Email”, so it must be an e-mail question.`, {
      name: 'Make it one',
      apply: d => changed(d, i, { kind: 'email', choices: [] }),
    })
  else if (q.property && !property)
    say('.property', `${called} fills a property that no longer exists.`, {
      name: 'Let it stand alone',
      apply: d => changed(d, i, { property: null }),
    })
  else if (property && !fills(q.kind, property.kind))
    say('.property', `${called} cannot fill “${property.label}”: the two are of different kinds.`, {
      name: 'Let it stand alone',
      apply: d => changed(d, i, { property: null }),
    })
  if (q.property && definition.questions.some((o, n) => n < i && o.property === q.property))
    say('.property', `Two questions fill the same property; ${called} is one of them.`, {
      name: 'Let it stand alone',
      apply: d => changed(d, i, { property: null }),
    })
  if (q.kind === 'one_of' || q.kind === 'some_of') choiceStops(q, called, i, say)
  if (
    q.limits.least !== null &&
    q.limits.most !== null &&
    (typeof q.limits.least === 'number' ? q.limits.least > Number(q.limits.most) : q.limits.least > String(q.limits.most))
  )
    say('.limits', `The least that fits ${called} is more than the most.`, {
      name: 'Swap them',
      apply: d => changed(d, i, { limits: { least: q.limits.most, most: q.limits.least } }),
    })
  if (q.hidden?.from === 'page' && !q.hidden.parameter)
    say('.hidden', `${called} is answered by the page, but by no parameter of its address. Name one, like utm_campaign.`)
  if (q.hidden?.from === 'fixed' && !q.hidden.value) say('.hidden', `${called} is not asked and has no answer. Give it one.`)
  if (q.preset && choicesOf(q).length && !choicesOf(q).some(c => c.value === q.preset))
    say('.preset', `What stands in ${called} from the start is not among its choices.`, {
      name: 'Start empty',
      apply: d => changed(d, i, { preset: '' }),
    })
  const gone = q.allows.find(topic => !(around.topics ?? q.allows).includes(topic))
  if (gone)
    say('.allows', `${called} allows mails that no longer exist.`, {
      name: 'Take them out',
      apply: d => changed(d, i, { allows: q.allows.filter(t => around.topics!.includes(t)) }),
    })
  conditionStops(q, called, i, definition, say)
  return found
}

type Say = (field: string, message: string, mend?: Check['mend']) => void

function choiceStops(q: Question, called: string, i: number, say: Say): void {
  if (q.choices.length < 2) say('.choices', `${called} needs at least two choices.`)
  const values = q.choices.map(c => c.value.trim().toLowerCase())
  const isFirst = (n: number) => values.indexOf(values[n]!) === n
  const twice = q.choices.find((_, n) => !isFirst(n))
  if (twice)
    say('.choices', `${called} offers “${twice.text}” twice.`, {
      name: 'Keep one',
      apply: d => changed(d, i, { choices: q.choices.filter((_, n) => isFirst(n)) }),
    })
  if (q.choices.some(c => !c.text.trim())) say('.choices', `A choice of ${called} has no text.`)
}

function conditionStops(q: Question, called: string, i: number, definition: PointDefinition, say: Say): void {
  if (!q.shownIf) return
  const always = { name: 'Always ask it', apply: (d: PointDefinition) => changed(d, i, { shownIf: null }) }
  const asked = attributesIn(q.shownIf)
  const earlier = definition.questions.slice(0, i)
  const later = asked.find(attribute => !earlier.some(o => attribute === `answer.${o.key}`))
  if (later) {
    const other = definition.questions.find(o => later === `answer.${o.key}`)
    return say(
      '.shownIf',
      other === q
        ? `${called} is shown by its own answer, which nobody can give before.`
        : other
          ? `${called} is shown by the answer to “${other.label}”, which comes after it. Put that one first.`
          : `${called} is shown by the answer to a question that was taken out.`,
      always,
    )
  }
  if (!canHold(q.shownIf, earlier)) say('.shownIf', `${called} can never be shown: no answer makes its condition true.`, always)
}

/** Whether some answers make a condition hold. Cautious: says no only where it is sure. */
function canHold(condition: Condition, questions: Question[]): boolean {
  if ('all' in condition) return condition.all.every(c => canHold(c, questions))
  if ('any' in condition) return condition.any.some(c => canHold(c, questions))
  if (!('attribute' in condition)) return true
  const choices = choicesOf(questions.find(q => `answer.${q.key}` === condition.attribute)!)
  if (!choices.length || !['equal', 'one_of'].includes(condition.is)) return true
  return [condition.value ?? []].flat().some(v => choices.some(c => c.value.toLowerCase() === String(v).toLowerCase()))
}

export const TEST_WORDS = /\b(test(ing)?|lorem|ipsum|asdf\w*|qwert\w*|foo|blah|xxx+|todo|tbd)\b/i
/** Characters of the longest word that a title line of a 320 px wide column holds at its size. */
const LONGEST_WORD = 19
/** Kinds that take thought or typing: they stand better behind easy ones. */
const HARD = ['long_text', 'money', 'phone', 'date']

/** What is doubtful, but may go live. */
export function hints(definition: PointDefinition, around: Surroundings): Check[] {
  const found: Check[] = []
  const say = (frame: FrameName, field: string, message: string, mend?: Check['mend']) =>
    found.push({ level: 'hint', frame, field, message, ...(mend && { mend }) })
  appearHints(definition).forEach(c => say('where', c.field, c.message, c.mend))
  const asked = definition.questions.map((q, i) => ({ q, i })).filter(({ q }) => !q.hidden && q.kind !== 'consent')
  const sensitivity = (q: Question) => around.properties.find(p => p.key === q.property)?.sensitivity ?? 'ordinary'
  const delicate = (q: Question) => sensitivity(q) !== 'ordinary'
  if (definition.chat)
    chatChecks(definition, around)
      .filter(c => c.level === 'hint')
      .forEach(c => say('questions', c.field, c.message))
  else if (definition.quiz) quizHints(definition).forEach(c => say(c.frame, c.field, c.message, c.mend))
  else if (asked.length > 5)
    say('questions', 'questions', `${asked.length} questions are asked. Each beyond five loses people; leave out what nobody will use.`)
  const early = asked.find(
    ({ q }, n) =>
      (HARD.includes(q.kind) || delicate(q)) && asked.slice(n + 1).some(({ q: o }) => !HARD.includes(o.kind) && !delicate(o) && !o.shownIf),
  )
  if (early && !definition.quiz && !definition.chat)
    say(
      'questions',
      `questions.${early.i}`,
      `“${early.q.label}” is ${delicate(early.q) ? 'private' : 'hard'} and stands before easier ones. People answer it more readily at the end.`,
      dependedOn(definition, early.q) ? undefined : { name: 'Put it last', apply: d => toEnd(d, early.i) },
    )
  for (const { q, i } of asked) {
    if (delicate(q) && !q.help.trim())
      say('questions', `questions.${i}.help`, `“${q.label}” asks for something private. Say under it why you ask.`)
    if (q.property && around.properties.find(p => p.key === q.property)?.retired)
      say('questions', `questions.${i}.property`, `“${q.label}” fills a property that was retired.`)
  }
  texts(definition).forEach(({ frame, field, text }) => {
    const word = TEST_WORDS.exec(text)?.[0]
    if (word) say(frame, field, `“${word}” looks like a test word left in.`)
  })
  const long = definition.title.split(/\s+/).find(w => [...w].length > LONGEST_WORD)
  if (long) say('questions', 'title', `“${long}” does not fit one line on a phone and will break anywhere. Use a shorter word or a hyphen.`)
  for (const [a, b, what, least] of [
    ['ink', 'sheet', 'The text is hard to read on its ground', 4.5],
    ['accent', 'sheet', 'The button hardly stands out from the ground', 3],
  ] as const) {
    const ratio = contrast(definition.theme[a], definition.theme[b])
    if (ratio < least) say('theme', `theme.${a}`, `${what}: the contrast is ${ratio.toFixed(1)} and should be at least ${least}.`)
  }
  if (definition.reminder && !definition.questions.some(q => q.kind === 'consent' && q.allows.length))
    say(
      'mails',
      'reminder',
      'Only those who agreed to mails are reminded, and nothing here asks for that. Add a consent question that allows some.',
    )
  for (const { key } of definition.translations) {
    const missing = untranslated(definition, key).length
    if (missing)
      say(
        'theme',
        `translations.${key}`,
        `In ${LANGUAGES[key]} ${missing === 1 ? 'one text is' : `${missing} texts are`} not written yet, and shown in ${LANGUAGES[definition.language]}.`,
      )
  }
  const mails = mailsOf(definition)
  const promises = definition.chat ? '' : definition.quiz ? definition.quiz.reason : definition.thanks
  if (!mails.length && !definition.confirm && definition.language === 'en' && PROMISES_MAIL.test(promises))
    say(
      'mails',
      'actions',
      definition.quiz
        ? 'The words above the contact questions promise a mail, and none goes out.'
        : 'The thanks promise a mail, and none goes out.',
      { name: 'Add one', apply: d => addedAction(d, 'mail', firstMail(false)) },
    )
  definition.actions.forEach((mail, i) => {
    if (mail.kind === 'mail' && mail.subject && !placeholdersIn(mail.subject)?.length)
      say(
        'mails',
        `actions.${i}.subject`,
        'Every mail has the same subject. A first name in it, put in from the menu, tells one from the next.',
      )
  })
  if (around.now !== undefined && definition.closing.until !== null && Date.parse(definition.closing.until) <= around.now)
    say('where', 'closing.until', 'The moment at which it closes is past: nobody can fill it in.', {
      name: 'Leave it open',
      apply: d => ({ ...d, closing: { ...d.closing, until: null } }),
    })
  nobodyAsked(definition).forEach(({ field, words, apply }) =>
    say('mails', field, `A mail says the ${words} of people, and nobody is asked for it. For whom we do not know yet it stays empty.`, {
      name: `Ask for the ${words}`,
      apply,
    }),
  )
  if (mails.some(l => l.days > 0) && !definition.questions.some(q => q.kind === 'consent'))
    say('mails', 'actions', 'A mail follows days later, and nobody agreed to get one. Add a consent question.')
  const address = definition.questions.find(q => q.property === 'email')
  if (!address?.required && (mails.length || definition.confirm || definition.next.kind === 'meeting'))
    say('mails', 'actions', 'Who gives no e-mail address gets none of the mails.')
  if (definition.people.unknown === 'refuse')
    say('inside', 'people.unknown', 'Whoever is refused learns that we do not know their address, and whoever is not learns that we do.')
  if (pagesOf(asked.map(a => a.q)).some((page, n, all) => all.length > 1 && page.length > 7))
    say('questions', 'questions', 'One part has more than seven questions. Cut it in two.')
  return found
}

/** What is promised by mail, in thanks. */
const PROMISES_MAIL = /\b(?:e-?mail(?! address)|mail|inbox)\b|\bsend (?:you|it|your)\b|\bon (?:its|their) way\b/i

/** What mails say of people that no question asks for. */
function nobodyAsked(d: PointDefinition): { field: string; name: string; words: string; apply: (d: PointDefinition) => PointDefinition }[] {
  const NEEDS: Record<string, { properties: string[]; words: string }> = {
    first_name: { properties: ['first_name'], words: 'first name' },
    last_name: { properties: ['last_name'], words: 'last name' },
    name: { properties: ['first_name', 'last_name'], words: 'first name' },
    company: { properties: ['company'], words: 'company' },
  }
  const texts = [
    ...(d.confirm ? [{ field: 'confirm.text', text: `${d.confirm.subject}\n${d.confirm.text}` }] : []),
    ...d.actions.flatMap((a, i) => (a.kind === 'mail' ? [{ field: `actions.${i}.text`, text: `${a.subject}\n${a.text}` }] : [])),
  ]
  const found = texts.flatMap(({ field, text }) =>
    unguardedIn(text).flatMap(placeholder => {
      const name = placeholder.replace(/^lead\./, '')
      const needs = placeholder.startsWith('lead.') && Object.hasOwn(NEEDS, name) ? NEEDS[name]! : null
      if (!needs || d.questions.some(q => needs.properties.includes(q.property ?? ''))) return []
      const property = needs.properties[0]!
      const asked = (o: PointDefinition): PointDefinition => ({
        ...o,
        questions: [
          ...o.questions.slice(0, 1),
          blankQuestion({
            key: freshKey(
              property,
              o.questions.map(q => q.key),
            ),
            kind: 'short_text',
            label: needs.words[0]!.toUpperCase() + needs.words.slice(1),
            property,
          }),
          ...o.questions.slice(1),
        ],
      })
      return [{ field, name, words: needs.words, apply: asked }]
    }),
  )
  return found.filter((f, i) => found.findIndex(o => o.name === f.name) === i)
}

/** All that visitors read, with where it stands. */
function texts(d: PointDefinition): { frame: FrameName; field: string; text: string }[] {
  return [
    { frame: 'questions' as const, field: 'title', text: d.title },
    { frame: 'questions' as const, field: 'intro', text: d.intro },
    { frame: 'questions' as const, field: 'button', text: d.button },
    { frame: 'thanks' as const, field: 'thanks', text: d.thanks },
    ...(d.chat?.flow.steps ?? []).flatMap((step, i) =>
      'text' in step ? [{ frame: 'questions' as const, field: `chat.flow.steps.${i}.text`, text: step.text }] : [],
    ),
    ...(d.reminder ? [{ frame: 'mails' as const, field: 'reminder.text', text: `${d.reminder.subject} ${d.reminder.text}` }] : []),
    ...(d.confirm
      ? [{ frame: 'mails' as const, field: 'confirm.text', text: `${d.confirm.subject} ${d.confirm.text} ${d.confirm.done}` }]
      : []),
    ...d.actions.flatMap((l, i) =>
      l.kind === 'mail' ? [{ frame: 'mails' as const, field: `actions.${i}.text`, text: `${l.subject} ${l.text}` }] : [],
    ),
    ...d.questions.flatMap((q, i) => [
      { frame: 'questions' as const, field: `questions.${i}.label`, text: q.label },
      { frame: 'questions' as const, field: `questions.${i}.help`, text: q.help },
      { frame: 'questions' as const, field: `questions.${i}.choices`, text: q.choices.map(c => c.text).join(' ') },
    ]),
  ]
}

const changed = (d: PointDefinition, at: number, change: Partial<Question>): PointDefinition => ({
  ...d,
  questions: d.questions.map((q, i) => (i === at ? { ...q, ...change } : q)),
})
/** Whether the place of a question matters to another: one hangs on it, or fills the same property. */
const dependedOn = (d: PointDefinition, q: Question) =>
  d.questions.some(
    o =>
      o !== q && ((o.shownIf && attributesIn(o.shownIf).includes(`answer.${q.key}`)) || (q.property !== null && o.property === q.property)),
  )
const toEnd = (d: PointDefinition, at: number): PointDefinition => {
  const rest = d.questions.filter((_, i) => i !== at)
  const end = rest.findLastIndex(q => q.kind !== 'consent') + 1
  return { ...d, questions: [...rest.slice(0, end), d.questions[at]!, ...rest.slice(end)] }
}
function withEmail(d: PointDefinition): PointDefinition {
  const key = d.questions.some(q => q.key === 'email') ? 'email_address' : 'email'
  return {
    ...d,
    questions: [...d.questions, blankQuestion({ key, kind: 'email', label: 'Your e-mail address', required: true, property: 'email' })],
  }
}

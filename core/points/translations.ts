import { chatInTongue, textsOfChat } from '#core/chat/translate'
import type { Language } from '#core/languages/language'
import { sayIn, type TextKey } from '#core/languages/say'
import type { PointDefinition } from '#core/points/shapes/definition'
import { questionInTongue, quizInTongue, textsOfQuiz } from '#core/quiz/translate'

export type { Translation } from '#core/points/shapes/rules'

/** A text of a point that visitors read, by a path that stays when it is moved. */
export interface Translatable {
  path: string
  /** Where it stands, for people. */
  called: string
  text: string
  /** Several lines. */
  long?: boolean
  /** It may have placeholders. */
  template?: boolean
}

/** All texts of a point that visitors read and that are not empty, in the order of their way. */
export function translatable(d: PointDefinition): Translatable[] {
  const found: (Translatable | false)[] = [
    { path: 'title', called: 'Title', text: d.title },
    { path: 'intro', called: 'Introduction', text: d.intro, long: true },
    ...d.questions
      .filter(q => !q.hidden)
      .flatMap(q => [
        { path: `questions.${q.key}.label`, called: 'Question', text: q.label },
        { path: `questions.${q.key}.help`, called: 'Under the question', text: q.help },
        { path: `questions.${q.key}.placeholder`, called: 'In the empty field', text: q.placeholder },
        { path: `questions.${q.key}.error`, called: 'If it is wrong', text: q.error },
        ...q.choices.map(c => ({ path: `questions.${q.key}.choices.${c.value}`, called: 'Answer', text: c.text })),
      ]),
    ...textsOfQuiz(d),
    ...textsOfChat(d),
    ...(d.chat ? [] : [{ path: 'button', called: 'Button', text: d.button }]),
    ...(d.chat || (d.quiz && d.quiz.contact !== 'after') ? [] : [{ path: 'thanks', called: 'Thanks', text: d.thanks, long: true }]),
    ...(d.display.on
      ? [
          { path: 'display.invitation', called: 'Invitation', text: d.display.invitation },
          { path: 'display.open', called: 'Invitation’s button', text: d.display.open },
        ]
      : []),
    { path: 'closing.text', called: 'When it is closed', text: d.closing.text, long: true },
    { path: 'closing.early', called: 'Before it opens', text: d.closing.early, long: true },
    { path: 'closing.full', called: 'When it is full', text: d.closing.full, long: true },
    { path: 'people.refusal', called: 'To whom we do not know', text: d.people.refusal, long: true },
    ...(d.confirm
      ? [
          { path: 'confirm.subject', called: 'Request to confirm: subject', text: d.confirm.subject, template: true },
          { path: 'confirm.text', called: 'Request to confirm', text: d.confirm.text, long: true, template: true },
          { path: 'confirm.done', called: 'Once confirmed', text: d.confirm.done, long: true },
        ]
      : []),
    ...(d.reminder
      ? [
          { path: 'reminder.subject', called: 'Reminder: subject', text: d.reminder.subject, template: true },
          { path: 'reminder.text', called: 'Reminder', text: d.reminder.text, long: true, template: true },
        ]
      : []),
    ...d.actions.flatMap(a =>
      a.kind === 'mail'
        ? [
            { path: `actions.${a.key}.subject`, called: 'Mail: subject', text: a.subject, template: true },
            { path: `actions.${a.key}.text`, called: 'Mail', text: a.text, long: true, template: true },
          ]
        : [],
    ),
  ]
  return found.filter((t): t is Translatable => t !== false && t.text.trim() !== '')
}

/** The languages that a point has, its own first. */
export const languagesOf = ({ language, translations }: Pick<PointDefinition, 'language' | 'translations'>): Language[] => [
  language,
  ...translations.map(t => t.key),
]

/** What is written in another language, by where it stands. */
export const textsIn = ({ translations }: Pick<PointDefinition, 'translations'>, language: Language): Map<string, string> =>
  new Map(translations.find(t => t.key === language)?.texts.map(t => [t.key, t.text]))

/** Texts of ours that a marketer need not translate, where they left them as they were. */
const OURS: [path: string, key: TextKey][] = [
  ['button', 'send'],
  ['thanks', 'thanks'],
]

/** What is not translated yet of a point in one of its other languages. */
export function untranslated(d: PointDefinition, language: Language): Translatable[] {
  const texts = textsIn(d, language)
  const isOurs = ({ path, text }: Translatable) => OURS.some(([p, key]) => p === path && text === sayIn(d.language)(key))
  return translatable(d).filter(t => !texts.get(t.path)?.trim() && !isOurs(t))
}

/**
 * A point in one of its languages: the same keys, rules and results in other words. What is not translated stays as it is; wordings
 * are tried in its own language only.
 */
export function inTongue(d: PointDefinition, language: Language): PointDefinition {
  if (language === d.language || !languagesOf(d).includes(language)) return d
  const texts = textsIn(d, language)
  const ours = Object.fromEntries(
    OURS.map(([path, key]) => [path, d[path as 'button' | 'thanks'] === sayIn(d.language)(key) ? sayIn(language)(key) : '']),
  )
  const say = (path: string, text: string) => text && (texts.get(path)?.trim() ? texts.get(path)! : ours[path] || text)
  return {
    ...d,
    language,
    variants: [],
    title: say('title', d.title),
    intro: say('intro', d.intro),
    button: say('button', d.button),
    thanks: say('thanks', d.thanks),
    quiz: d.quiz && quizInTongue(d.quiz, say),
    chat: d.chat && chatInTongue(d.chat, say),
    questions: d.questions
      .map(q => questionInTongue(q, say))
      .map(q => ({
        ...q,
        label: say(`questions.${q.key}.label`, q.label),
        help: say(`questions.${q.key}.help`, q.help),
        placeholder: say(`questions.${q.key}.placeholder`, q.placeholder),
        error: say(`questions.${q.key}.error`, q.error),
        choices: q.choices.map(c => ({ ...c, text: say(`questions.${q.key}.choices.${c.value}`, c.text) })),
      })),
    display: { ...d.display, invitation: say('display.invitation', d.display.invitation), open: say('display.open', d.display.open) },
    closing: {
      ...d.closing,
      text: say('closing.text', d.closing.text),
      early: say('closing.early', d.closing.early),
      full: say('closing.full', d.closing.full),
    },
    people: { ...d.people, refusal: say('people.refusal', d.people.refusal) },
    confirm: d.confirm && {
      ...d.confirm,
      subject: say('confirm.subject', d.confirm.subject),
      text: say('confirm.text', d.confirm.text),
      done: say('confirm.done', d.confirm.done),
    },
    reminder: d.reminder && {
      ...d.reminder,
      subject: say('reminder.subject', d.reminder.subject),
      text: say('reminder.text', d.reminder.text),
    },
    actions: d.actions.map(a =>
      a.kind === 'mail' ? { ...a, subject: say(`actions.${a.key}.subject`, a.subject), text: say(`actions.${a.key}.text`, a.text) } : a,
    ),
  }
}

/** Writes a text in another language; '' takes it out. */
export function translate(d: PointDefinition, language: Language, path: string, text: string): PointDefinition {
  return {
    ...d,
    translations: d.translations.map(t =>
      t.key === language ? { ...t, texts: [...t.texts.filter(o => o.key !== path), ...(text ? [{ key: path, text }] : [])] } : t,
    ),
  }
}
export const addLanguage = (d: PointDefinition, key: Language): PointDefinition =>
  languagesOf(d).includes(key) ? d : { ...d, translations: [...d.translations, { key, texts: [] }] }
export const removeLanguage = (d: PointDefinition, key: Language): PointDefinition => ({
  ...d,
  translations: d.translations.filter(t => t.key !== key),
})

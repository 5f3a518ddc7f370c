import type { Language } from '#core/languages/language'
import type { Say } from '#core/languages/say'

/** What a form needs in a browser of our own texts. `{at}`, `{of}` and `{name}` are filled in there. */
export type PointWords = ReturnType<typeof pointWords>

export const pointWords = (say: Say) => ({
  optional: say('optional'),
  choose: say('choose'),
  back: say('back'),
  next: say('next'),
  part: say('part', { at: '{at}', of: '{of}' }),
  empty: say('leaveEmpty'),
  look: say('look'),
  answer: say('answerThis'),
  waiting: say('waiting'),
  failed: say('failed'),
  down: say('lineDown'),
  close: say('close'),
  download: say('download', { name: '{name}' }),
  time: say('chooseTime'),
})

/** What the notice says of our own texts. */
export const noticeWords = (say: Say) => ({ called: say('noticeCalled'), yes: say('noticeYes'), no: say('noticeNo') })

/** What a chat needs in a browser of our own texts. `{name}`, `{answer}` and `{n}` are filled in there. */
export type ChatWords = ReturnType<typeof chatWords>
export const chatWords = (say: Say, language: Language) => ({
  write: say('chatWrite'),
  send: say('send'),
  said: say('chatSaid'),
  you: say('chatYou'),
  typing: say('chatTyping', { name: '{name}' }),
  read: say('chatRead'),
  unsent: say('chatUnsent'),
  wrong: say('chatWrong'),
  yes: say('yes'),
  skip: say('chatSkip'),
  rate: say('chatRate'),
  rates: [say('chatRate1'), say('chatRate2'), say('chatRate3'), say('chatRate4'), say('chatRate5')],
  add: say('chatAdd'),
  thanks: say('chatThanks'),
  over: say('chatOver'),
  again: say('chatAgain'),
  none: say('chatNone'),
  file: say('chatFile'),
  close: say('close'),
  failed: say('failed'),
  /** By the plural forms of the language, `#` for the number. */
  fresh: Object.fromEntries(
    [100, 11, 3, 2, 1, 0].map(n => [new Intl.PluralRules(language).select(n), say('chatNew', { n }).replace(String(n), '#')]),
  ),
})

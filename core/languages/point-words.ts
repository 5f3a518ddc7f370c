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

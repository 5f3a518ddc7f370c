import { DROPPED, type DeliveriesView, type DeliveryView, type Heap } from '#core/deliveries/delivery'
import { ago, due, duration } from './words'

/** What each heap is called, and what one reads where nothing lies on it. */
export const HEAP_WORDS: Record<Heap, { name: string; nothing: string }> = {
  'held up': {
    name: 'Held up',
    nothing:
      'Nothing is held up. What fails is tried again by itself, after pauses that grow from 5 seconds to a quarter of an hour, and stands here meanwhile.',
  },
  'given up': {
    name: 'Given up',
    nothing: 'Nothing was given up. That happens after two days of tries, or when a mail server refuses a mail for good.',
  },
  waiting: { name: 'Waiting', nothing: 'Nothing waits. Mails stand here that go out some days later, or when an address is confirmed.' },
  sent: { name: 'Sent', nothing: 'Nothing has gone out yet.' },
  dropped: {
    name: 'Called off',
    nothing: 'Nothing was called off. That happens to mails for people who leave the list, or who did meanwhile what the mail asks for.',
  },
}

const quoted = (answer: string | null) => (answer ? `: “${answer}”` : '')
const FAILED = { unreachable: 'could not be used', later: 'asked us to come later', refused: 'refused it for good' }

/** Where a delivery stands, in a sentence; `bad` where it stays so unless somebody does something. */
export function standing(d: DeliveryView, now: number): { text: string; bad: boolean } {
  const failed = d.failure && d.triedAt ? `${sentence(ago(d.triedAt, now))} the mail server ${FAILED[d.failure]}${quoted(d.answer)}.` : ''
  const tries = d.tries > 1 ? ` Tried ${d.tries} times.` : ''
  switch (d.state) {
    case 'sent':
      return {
        text: `${sentence(ago(d.sentAt!, now))}, taken in ${took(d.tookMs)}${quoted(d.answer)}.${d.tries > 1 ? ` It took ${d.tries} tries.` : ''}`,
        bad: false,
      }
    case 'in hand':
      return { text: 'Is on its way now.', bad: false }
    case 'held up':
      return { text: `${failed}${tries} Again ${until(d.dueAt!, now)}.`.trim(), bad: false }
    case 'given up':
      return { text: `${failed || DROPPED['gave up']}${tries}`, bad: true }
    case 'dropped':
      return { text: DROPPED[d.dropped!], bad: false }
    case 'unconfirmed':
      return { text: 'Waits until the address is confirmed.', bad: false }
    case 'later':
      return { text: `Goes out ${due(d.dueAt!, now)}.`, bad: false }
    case 'bell':
      return { text: 'At the bell only.', bad: false }
    case 'due':
      return { text: 'Is due now.', bad: false }
  }
}

const sentence = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
const took = (ms: number | null) => (ms === null ? 'an unknown time' : ms < 1000 ? `${ms} ms` : `${Math.round(ms / 100) / 10} s`)
function until(iso: string, now: number): string {
  const seconds = (Date.parse(iso) - now) / 1000
  return seconds <= 1 ? 'now' : `in ${duration(seconds)}`
}

/** How all goes, in sentences. */
export function howItGoes(
  { workerS, last, long }: Pick<DeliveriesView, 'workerS' | 'last' | 'long'>,
  now: number,
): { text: string; bad: boolean }[] {
  const failedLast = last.failed && (!last.sent || last.failed.at > last.sent.at)
  return [
    workerS === null || workerS > 10
      ? {
          text: `The worker ${workerS === null ? 'never said that it is there' : `has been silent for ${duration(workerS)}`}. Nothing goes out until it is back; nothing is lost.`,
          bad: true,
        }
      : { text: 'The worker is at work.', bad: false },
    failedLast
      ? {
          text: `The last try, ${ago(last.failed!.at, now)}, failed${quoted(last.failed!.answer)}.${last.sent ? ` The last that went out did so ${ago(last.sent.at, now)}.` : ''}`,
          bad: true,
        }
      : {
          text: last.sent
            ? `The last mail went out ${ago(last.sent.at, now)}; the mail server took it in ${took(last.sent.tookMs)}.`
            : 'No mail has gone out yet.',
          bad: false,
        },
    ...long.map(t => ({
      text: `A transaction has been writing for ${duration(t.seconds)} (${t.program || 'no name'}${t.database ? `, database ${t.database}` : ''}). Figures wait until it ends.`,
      bad: true,
    })),
  ]
}

import { createTransport, type Transporter } from 'nodemailer'
import type { SendMailOptions } from 'nodemailer'
import type { Failure } from '#core/deliveries/delivery'
import type { InHand } from '#db/deliveries'
import type { FileContent } from '#db/files'
import type { MeetingMail } from '#db/meetings'
import { noticeBodies, ownBodies } from '#server/deliveries/member-mail'
import { visitorBodies } from '#server/deliveries/visitor-mail'
import { calendarFile } from '#server/meetings/calendar'
import { leaveAddress } from '#server/signed-addresses'
import { setting } from '#server/settings'

export interface Post {
  transport: Pick<Transporter, 'sendMail'>
  from: string
  appUrl: string
}

/** @param connections as many as may send at the same time, or some would wait in the transport with their lease running */
export function createPost(smtpUrl: string, from: string, appUrl: string, connections: number): Post {
  // Mail servers refuse those who hurry; and nobody reads faster.
  const options = {
    url: smtpUrl,
    pool: true,
    maxConnections: connections,
    rateDelta: 1000,
    rateLimit: setting('CAVLIN_MAILS_PER_SECOND'),
    connectionTimeout: 5000,
    greetingTimeout: 10_000,
    socketTimeout: 30_000,
  }
  return { transport: createTransport(options as never), from, appUrl }
}

/** The address alone of a sender like `Larkmoss <post@larkmoss.example>`. */
const addressIn = (from: string): string => /<([^>]+)>/.exec(from)?.[1] ?? from

/**
 * A delivery as a mail. The same message id each time, so that a mail server can tell a repetition after a crash between
 * sending and noting it.
 */
export function mailOf(d: InHand, post: Post, meeting: MeetingMail | undefined, files: readonly FileContent[] = []): SendMailOptions {
  return {
    from: d.fromName ? { name: d.fromName, address: addressIn(post.from) } : post.from,
    ...(d.replyTo && { replyTo: d.replyTo }),
    to: d.recipientName ? { name: d.recipientName, address: d.recipient } : d.recipient,
    messageId: `<${d.id}@cavlin.example>`,
    subject: d.kind === 'test' ? `Test: ${d.subject}` : d.subject,
    ...bodiesOf(d, post),
    ...(files.length && { attachments: files.map(f => ({ filename: f.name, content: f.content, contentType: f.type })) }),
    ...(meeting && {
      icalEvent: { method: meeting.calledOff ? 'CANCEL' : 'REQUEST', filename: 'meeting.ics', content: calendarFile(meeting) },
    }),
  }
}

function bodiesOf(d: InHand, post: Post): Partial<SendMailOptions> {
  switch (d.kind) {
    case 'notice':
      return { ...noticeBodies(d, post.appUrl), replyTo: d.leadEmail ?? undefined }
    case 'test':
      return d.look ? visitorBodies(d, '', post.appUrl) : ownBodies(d)
    case 'personal':
      return { text: d.body }
    case 'alert':
      return ownBodies(d)
    default: {
      const leave = leaveAddress(d.id)
      return {
        ...visitorBodies(d, leave, post.appUrl),
        headers: { 'List-Unsubscribe': `<${leave}>`, 'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click' },
      }
    }
  }
}

/** What the mail server said, without line breaks, and as long as a table can show. */
const briefAnswer = (text: string) => text.replace(/\s+/g, ' ').trim().slice(0, 300)

/** Hands a mail over. @returns what the mail server said @throws what `failureOf` reads */
export async function handOver(post: Post, mail: SendMailOptions): Promise<string> {
  const info = (await post.transport.sendMail(mail)) as { response?: string } | undefined
  return briefAnswer(info?.response ?? '')
}

/**
 * How handing over failed. A code of 5yz that concerns this mail is final (RFC 5321, 4.2.1); one that concerns us, such as a
 * password that is wrong, stands in the way of all.
 */
export function failureOf(error: unknown): { failure: Failure; answer: string } {
  const {
    message = '',
    response,
    responseCode,
    code,
  } = error as { message?: string; response?: string; responseCode?: number; code?: string }
  const ofThis = code === 'EENVELOPE' || code === 'EMESSAGE'
  return {
    failure: !responseCode || !ofThis ? 'unreachable' : responseCode >= 500 ? 'refused' : 'later',
    answer: briefAnswer(response || message || 'No answer'),
  }
}

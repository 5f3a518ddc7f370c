import { createTransport, type Transporter } from 'nodemailer'
import { answersInWords } from '#core/points/in-words'
import { escapeHtml as e } from '#core/text'
import type { Sql } from '#db/client'
import { meetingToMail } from '#db/meetings'
import { markMailed, noticesToMail, postponeMails, type ToMail } from '#db/notices'
import { calendarFile } from '#server/meetings/calendar'
import type { TestMail } from '#server/jobs/queue'

/** Mail servers refuse those who hurry; and nobody reads faster. */
const MAILS_PER_SECOND = Number(process.env.CAVLIN_MAILS_PER_SECOND) || 25

export interface Post { transport: Transporter; from: string; appUrl: string }

export function createPost(smtpUrl: string, from: string, appUrl: string): Post {
  return { transport: createTransport({ url: smtpUrl, pool: true, maxConnections: 2, rateDelta: 1000, rateLimit: MAILS_PER_SECOND, connectionTimeout: 5000, greetingTimeout: 5000, socketTimeout: 10_000 } as never), from, appUrl }
}

const AT_ONCE = 8
/** A worker that took notices and does not come back has died. */
const TAKEN_SECONDS = 60
/** A mail server may be down for a day: every 5 s costs nothing, and people wait for it. */
const AGAIN_SECONDS = 5

/**
 * Mails members what they are told, where its time has come. What the mail server does not take comes again later.
 * @param goOn asked before more are taken
 * @returns the leads of whom mails went out, and what stood in the way of others
 */
export async function mailNotices(sql: Sql, post: Post, goOn = () => true): Promise<{ leads: string[]; error: Error | null }> {
  const leads: string[] = []
  for (;;) {
    const notices = await noticesToMail(sql, AT_ONCE, TAKEN_SECONDS)
    const tries = await Promise.allSettled(notices.map(notice => mailOne(sql, post, notice)))
    const [sent, left] = [notices.filter((_, i) => tries[i]!.status === 'fulfilled'), notices.filter((_, i) => tries[i]!.status === 'rejected')]
    if (sent.length) await markMailed(sql, sent.map(n => n.id))
    leads.push(...sent.map(n => n.leadId))
    if (left.length) {
      await postponeMails(sql, left.map(n => n.id), AGAIN_SECONDS)
      return { leads, error: (tries.find(t => t.status === 'rejected') as PromiseRejectedResult).reason as Error }
    }
    if (notices.length < AT_ONCE || !goOn()) return { leads, error: null }
  }
}

/**
 * The same message id each time, so that a mail server can tell a repetition after a crash between sending and noting it.
 * @throws when the mail server does not take it
 */
async function mailOne(sql: Sql, post: Post, mail: ToMail): Promise<void> {
  const { text, html } = compose(mail, post.appUrl)
  const meeting = mail.body.meeting ? await meetingToMail(sql, mail.body.meeting) : undefined
  await post.transport.sendMail({
    from: post.from, to: { name: mail.toName, address: mail.toEmail }, replyTo: mail.leadEmail ?? undefined, subject: mail.subject, text, html,
    messageId: `<${mail.id}@cavlin.example>`, ...(meeting && { icalEvent: { method: 'REQUEST', filename: 'meeting.ics', content: calendarFile(meeting) } }),
  })
}

/** Mails a member what the owner would have been mailed of a test entry; it says that it is one. */
export async function sendTestMail(post: Post, mail: TestMail): Promise<void> {
  const said = ['This is a test entry. Nobody was told but you, and nothing of it was kept.', '', mail.text, '', ...mail.lines.map(l => `${l.label}: ${l.text}`)]
  await post.transport.sendMail({ from: post.from, to: mail.to, subject: `Test: ${mail.subject}`, text: said.join('\n') })
}

/** The mail's two bodies. Whatever a visitor typed is text in both. */
export function compose(mail: ToMail, appUrl: string): { text: string; html: string } {
  const replying = mail.leadEmail ? 'Replying to this mail writes to them directly.' : 'They left no e-mail address.'
  const link = `${appUrl}/follow-up/leads/${mail.leadId}`
  const lines = mail.body.lines ?? answersInWords(mail.questions ?? [], mail.answers ?? {})
  const attributes = [...(mail.leadEmail ? [{ label: 'E-mail', text: mail.leadEmail }] : []), ...(mail.label ? [{ label: 'Label', text: mail.label }] : []), ...lines.filter(l => l.text !== mail.leadEmail)]
  const text = [mail.body.text, '', ...attributes.map(f => f.text.includes('\n') ? `${f.label}:\n${f.text}` : `${f.label}: ${f.text}`), '', `Open: ${link}`, '', replying].join('\n')
  const rows = attributes.map(f => `<tr><td style="padding:6px 16px 6px 0;color:#5b6766;vertical-align:top">${e(f.label)}</td><td style="padding:6px 0;white-space:pre-wrap">${e(f.text)}</td></tr>`).join('')
  const html = `<!doctype html><html lang="en"><body style="margin:0;padding:24px;background:#f5f2ea;color:#1d2a2b;font:15px/22px sans-serif">
<div style="max-width:560px;margin:0 auto;padding:24px;background:#fffdf9;border:1px solid #dcd6c6">
<p style="margin:0 0 16px;font-size:18px;line-height:26px">${e(mail.body.text)}</p><table style="border-collapse:collapse;font:inherit">${rows}</table>
<p style="margin:20px 0"><a href="${e(link)}" style="display:inline-block;padding:10px 18px;background:#14594f;color:#fff;text-decoration:none;border-radius:4px">Open the lead</a></p>
<p style="margin:0;color:#5b6766;font-size:13px">${replying}</p></div></body></html>`
  return { text, html }
}

import { escapeHtml as e } from '#core/text'
import type { IcalAttachment } from 'nodemailer/lib/mailer'
import type { Sql, Tx } from '#db/client'
import { dropMail, dueMails, holdMail, mailSent, mailsLately, postponeMail, type DueMail } from '#db/mails'
import { meetingToMail } from '#db/meetings'
import type { Post } from '#server/jobs/mail'
import { leaveAddress, withoutTokens } from '#server/signed-addresses'
import { calendarFile } from '#server/meetings/calendar'

const AT_ONCE = 10
const off = process.env.CAVLIN_LIMITS === 'off'
/**
 * Mails within an hour, at most: to one mailbox (what is more is dropped), to addresses of one domain that nobody has
 * confirmed, and on behalf of one sender (what is more waits). Anybody can type anybody's address into a form, again and again.
 */
const MOST = { mailbox: 5, domain: off ? Infinity : Number(process.env.CAVLIN_LIMIT_MAILS_DOMAIN) || 60, sender: off ? Infinity : Number(process.env.CAVLIN_LIMIT_MAILS_SENDER) || 20 }
const WAIT_MINUTES = 15

/**
 * Sends the mails that are due. One that the mail server does not take comes again later.
 * @returns the leads whose timeline changed
 */
export async function sendMails(sql: Sql, post: Post): Promise<string[]> {
  const leads: string[] = []
  for (;;) {
    const sent = await sql.begin(async (tx) => {
      const due = await dueMails(tx, AT_ONCE)
      for (const mail of due) if (await sendOne(tx, post, mail)) leads.push(mail.leadId)
      return due.length
    })
    if (sent < AT_ONCE) return leads
  }
}

async function sendOne(tx: Tx, post: Post, mail: DueMail): Promise<boolean> {
  // Whoever left meanwhile gets nothing that does not answer them at once.
  if (mail.unsubscribedAt && !mail.claimId && mail.kind === 'mail' && mail.days > 0) {
    await dropMail(tx, mail.id, 'unsubscribed')
    return false
  }
  if (mail.done) {
    await dropMail(tx, mail.id, 'clicked')
    return false
  }
  const lately = await mailsLately(tx, mail)
  if (lately.mailbox >= MOST.mailbox) {
    await dropMail(tx, mail.id, 'too many')
    return false
  }
  if ((!mail.known && lately.domain >= MOST.domain) || (mail.sender && lately.sender >= MOST.sender)) {
    await holdMail(tx, mail.id, WAIT_MINUTES)
    return false
  }
  const leave = leaveAddress(mail.id)
  try {
    await post.transport.sendMail({
      from: post.from, to: mail.recipient, subject: mail.subject, ...bodies(mail, leave), messageId: `<${mail.id}@cavlin.example>`,
      ...await calendarOf(tx, mail),
      headers: { 'List-Unsubscribe': `<${leave}>`, 'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click' },
    })
  } catch {
    await postponeMail(tx, mail.id, mail.tries)
    return false
  }
  await mailSent(tx, mail.id, withoutTokens(mail.body))
  return true
}

/** The calendar file of a mail that confirms a meeting. */
async function calendarOf(tx: Tx, { kind, entryId }: DueMail): Promise<{ icalEvent?: IcalAttachment }> {
  const meeting = kind === 'meeting' && entryId ? await meetingToMail(tx, entryId) : undefined
  return meeting ? { icalEvent: { method: 'REQUEST', filename: 'meeting.ics', content: calendarFile(meeting) } } : {}
}

/** A mail as text and as plain HTML: paragraphs, addresses as links, and the way to leave. */
export function bodies(mail: Pick<DueMail, 'body' | 'kind'>, leave: string): { text: string; html: string } {
  const ending = mail.kind === 'confirm' ? 'If you did not ask for this, do nothing: you get no other mail from us.' : 'You can leave at any time'
  const linked = (text: string) => e(text).replace(/https?:\/\/[^\s<]+[^\s<.,;:!?)]/g, url => `<a href="${url}" style="color:#14594f">${url}</a>`)
  const paragraph = (inner: string) => `<p style="margin:0 0 14px">${inner}</p>`
  // The one thing that is asked for is a button; the address stands under it, for programs that show no HTML links.
  const button = (url: string) => `<p style="margin:4px 0 6px"><a href="${e(url)}" style="display:inline-block;padding:11px 20px;border-radius:4px;background:#14594f;color:#ffffff;text-decoration:none;font-weight:600">Yes, this address is mine</a></p><p style="margin:0 0 18px;color:#5b6766;font-size:13px;line-height:19px;word-break:break-all">${e(url)}</p>`
  const paragraphs = mail.body.split(/\n{2,}/).map(p => mail.kind === 'confirm' && /^https?:\/\/\S+\/c\/\S+$/.test(p.trim()) ? button(p.trim()) : paragraph(linked(p).replace(/\n/g, '<br>'))).join('')
  const foot = mail.kind === 'confirm' ? e(ending) : `<a href="${e(leave)}" style="color:#5b6766">${e(ending)}</a>.`
  return {
    text: `${mail.body}\n\n--\n${mail.kind === 'confirm' ? ending : `${ending}: ${leave}`}\n`,
    html: `<!doctype html><html lang="en"><body style="margin:0;padding:24px;background:#f5f2ea;color:#1d2a2b;font:16px/24px sans-serif"><div style="max-width:560px;margin:0 auto;padding:26px;background:#fffdf9;border:1px solid #dcd6c6">${paragraphs}<p style="margin:22px 0 0;color:#5b6766;font-size:13px;line-height:19px">${foot}</p></div></body></html>`,
  }
}

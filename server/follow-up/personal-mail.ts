import type { AddressObject, ParsedMail } from 'mailparser'
import { parseEmail } from '#core/identity/email'
import { foldQuotes } from '#core/mails/incoming'
import { nameOf } from '#core/leads/lead'
import type { LeadCause } from '#core/leads/causes'
import type { Sql } from '#db/client'
import { takeLeadFiles } from '#db/files'
import { leadById } from '#db/leads'
import { standingFor } from '#db/merges'
import { insertPersonal, noteReply, personalById } from '#db/personal-mail'
import { replyInto } from '#server/chat/by-mail'
import { deliveryOf, replyAddress } from '#server/follow-up/reply-address'
import type { Upload } from '#server/files/inspect'
import { newId } from '#server/ids'
import { changeLeads } from '#server/ingest/change'
import { retried } from '#server/ingest/micro-batcher'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'

const MOST_TEXT = 20_000

/**
 * One of us writes to one person: the mail is on its way, and their clock stops.
 * @throws 404 without such a lead; 422 where there is nobody to write to
 */
export async function writeTo(
  sql: Sql,
  ruleset: Ruleset,
  lead: string,
  by: { id: string; name: string },
  mail: { subject: string; text: string; files?: string[] },
): Promise<string> {
  const row = await leadById(sql, lead)
  if (!row) throw problem(404, 'There is no such lead.')
  if (!row.email) throw problem(422, 'We know no e-mail address of theirs. Add one first.')
  if (!row.submittedAt) throw problem(422, 'They never sent what they typed, so nobody is to write to them.')
  if (row.guardedAt) throw problem(422, 'Their address was given later, and nobody has vouched for it. Say first that it is theirs.')
  const id = newId()
  const at = Date.now()
  await retried(() =>
    sql.begin(async tx => {
      await insertPersonal(tx, {
        id,
        lead,
        recipient: row.email!,
        recipientName: nameOf(row),
        subject: mail.subject,
        text: mail.text,
        fromName: by.name,
        replyTo: replyAddress(id),
      })
      const files = mail.files?.length ? await takeLeadFiles(tx, lead, by.id, mail.files, id) : []
      if (files.length !== (mail.files?.length ?? 0))
        throw problem(422, 'A file is not there any more. Add it again.', [{ field: 'files', message: 'Add the file again.' }])
      await changeLeads(tx, ruleset, [
        { kind: 'wrote', at, by: by.id, lead, mail: id, subject: mail.subject, text: mail.text, files: [...files] } as LeadCause,
      ])
    }),
  )
  return id
}

const addressesIn = (mail: ParsedMail): string[] => {
  const of = (field: AddressObject | AddressObject[] | undefined) => [field ?? []].flat().flatMap(a => a.value.map(v => v.address ?? ''))
  const delivered = mail.headerLines
    .filter(h => h.key === 'delivered-to' || h.key === 'x-original-to')
    .map(h => h.line.replace(/^[^:]*:/, '').trim())
  return [...of(mail.to), ...of(mail.cc), ...delivered]
}
/** What was put to it by hand; pictures of a signature stand inside. */
const filesOf = (mail: ParsedMail): Upload[] =>
  mail.attachments
    .filter(a => a.contentDisposition === 'attachment')
    .map(a => ({ field: 'file', name: a.filename ?? 'file', content: a.content, whole: true }))
/** Programs say so that answer by themselves (RFC 3834, 5). */
const isAuto = (mail: ParsedMail): boolean => {
  const said = String(mail.headers.get('auto-submitted') ?? 'no').toLowerCase()
  return (
    !said.startsWith('no') ||
    mail.headers.has('x-autoreply') ||
    /^(bulk|junk|auto_reply)$/i.test(String(mail.headers.get('precedence') ?? ''))
  )
}

/**
 * A mail came in under an address of the house: it stands with the lead whom our mail went to, or in the conversation that our mail went
 * on with. The same mail twice is one.
 * @returns the lead; null when it had come before, or stands in a conversation
 * @throws 404 when it answers no mail of ours
 */
export async function takeReply(sql: Sql, ruleset: Ruleset, mail: ParsedMail): Promise<{ lead: string; members: string[] } | null> {
  const delivery = addressesIn(mail)
    .map(deliveryOf)
    .find(id => id !== null)
  const sent = delivery && (await personalById(sql, delivery))
  if (!delivery || !sent) throw problem(404, 'This answers no mail of ours, or whom it went to was erased.')
  const from = mail.from?.value[0]?.address ?? ''
  const same = parseEmail(from)?.key === parseEmail(sent.recipient ?? '')?.key
  const { text, quoted } = foldQuotes((mail.text ?? '').slice(0, 4 * MOST_TEXT))
  const at = Date.now()
  const messageId = (mail.messageId ?? `${delivery} ${at}`).slice(0, 500)
  const subject = (mail.subject ?? 'No subject').slice(0, 300)
  const other = same ? null : from.slice(0, 300)
  if (sent.conversationId) {
    await replyInto(sql, ruleset, delivery, sent, {
      text: text.slice(0, MOST_TEXT),
      quoted: quoted.slice(0, MOST_TEXT),
      subject,
      messageId,
      from: other,
      auto: isAuto(mail),
      files: filesOf(mail),
    })
    return null
  }
  const lead = (await leadById(sql, sent.leadId))?.id ?? (await standingFor(sql, sent.leadId))
  const cause = {
    kind: 'replied',
    at,
    by: null,
    lead,
    subject,
    text: text.slice(0, MOST_TEXT),
    quoted: quoted.slice(0, MOST_TEXT),
    from: other,
    auto: isAuto(mail),
  }
  return retried(() =>
    sql.begin(async tx => {
      if (!(await noteReply(tx, { id: newId(), messageId, delivery, lead }))) return null
      const [step] = await changeLeads(tx, ruleset, [cause as LeadCause])
      return { lead: step?.lead.id ?? lead, members: step?.notices.map(n => n.to) ?? [] }
    }),
  )
}

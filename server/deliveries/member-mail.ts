import { answersInWords } from '#core/points/in-words'
import { escapeHtml as e } from '#core/text'
import type { InHand } from '#db/deliveries'
import type { Bodies } from '#server/deliveries/bodies'

/** What a notice to a member needs to say. */
type Telling = Pick<InHand, 'subject' | 'body' | 'lines' | 'answers' | 'questions' | 'leadId' | 'listId' | 'leadEmail' | 'label'> &
  Partial<Pick<InHand, 'isSummary'>>

/** The mail's two bodies. Whatever a visitor typed is text in both. */
export function noticeBodies(mail: Telling, appUrl: string): Bodies {
  const many = mail.leadId === null
  const replying = many ? '' : mail.leadEmail ? 'Replying to this mail writes to them directly.' : 'They left no e-mail address.'
  const link = mail.isSummary
    ? appUrl
    : mail.listId
      ? `${appUrl}/follow-up?list=${mail.listId}`
      : many
        ? `${appUrl}/qualify/review`
        : `${appUrl}/follow-up/leads/${mail.leadId}`
  // Whoever opens it while signed in takes them; who has them already says that they do.
  const take = mail.isSummary || mail.listId || many ? '' : `${link}?take=yes`
  const lines = mail.lines ?? answersInWords(mail.questions ?? [], mail.answers ?? {})
  const attributes = [
    ...(mail.leadEmail ? [{ label: 'E-mail', text: mail.leadEmail }] : []),
    ...(mail.label ? [{ label: 'Label', text: mail.label }] : []),
    ...lines.filter(l => l.text !== mail.leadEmail),
  ]
  const text = [
    mail.body,
    '',
    ...attributes.map(f => (f.text.includes('\n') ? `${f.label}:\n${f.text}` : `${f.label}: ${f.text}`)),
    '',
    `Open: ${link}`,
    ...(take ? [`Take it yourself: ${take}`] : []),
    ...(replying ? ['', replying] : []),
  ].join('\n')
  const rows = attributes
    .map(
      f =>
        `<tr><td style="padding:6px 16px 6px 0;color:#5b6766;vertical-align:top">${e(f.label)}</td><td style="padding:6px 0;white-space:pre-wrap">${e(f.text)}</td></tr>`,
    )
    .join('')
  const html = `<!doctype html><html lang="en"><body style="margin:0;padding:24px;background:#f5f2ea;color:#1d2a2b;font:15px/22px sans-serif">
<div style="max-width:560px;margin:0 auto;padding:24px;background:#fffdf9;border:1px solid #dcd6c6">
<p style="margin:0 0 16px;font-size:18px;line-height:26px">${e(mail.body)}</p><table style="border-collapse:collapse;font:inherit">${rows}</table>
<p style="margin:20px 0"><a href="${e(link)}" style="display:inline-block;padding:10px 18px;background:#14594f;color:#fff;text-decoration:none;border-radius:4px">${mail.isSummary ? 'Open Today' : mail.listId ? 'Open the list' : many ? 'Look at what waits' : 'Open the lead'}</a></p>
<p style="margin:0;color:#5b6766;font-size:13px">${replying}</p></div></body></html>`
  return { text, html }
}

/** What a member is mailed about their own doings. That of a test entry says that it is one. */
export function ownBodies({ kind, body, lines }: Pick<InHand, 'kind' | 'body' | 'lines'>): Bodies {
  const said = kind === 'test' ? ['This is a test entry. Nobody was told but you, and nothing of it was kept.', ''] : []
  return { text: [...said, body, ...(lines?.length ? ['', ...lines.map(l => `${l.label}: ${l.text}`)] : [])].join('\n') }
}

import { escapeHtml as e } from '#core/text'
import type { InHand } from '#db/deliveries'
import type { Bodies } from '#server/deliveries/bodies'

/** A mail as text and as plain HTML: paragraphs, addresses as links, and the way to leave. */
export function visitorBodies(mail: Pick<InHand, 'body' | 'kind'>, leave: string): Bodies {
  const ending =
    mail.kind === 'confirm' ? 'If you did not ask for this, do nothing: you get no other mail from us.' : 'You can leave at any time'
  const linked = (text: string) =>
    e(text).replace(/https?:\/\/[^\s<]+[^\s<.,;:!?)]/g, url => `<a href="${url}" style="color:#14594f">${url}</a>`)
  const paragraph = (inner: string) => `<p style="margin:0 0 14px">${inner}</p>`
  // The one thing that is asked for is a button; the address stands under it, for programs that show no HTML links.
  const button = (url: string) =>
    `<p style="margin:4px 0 6px"><a href="${e(url)}" style="display:inline-block;padding:11px 20px;border-radius:4px;background:#14594f;color:#ffffff;text-decoration:none;font-weight:600">Yes, this address is mine</a></p><p style="margin:0 0 18px;color:#5b6766;font-size:13px;line-height:19px;word-break:break-all">${e(url)}</p>`
  const paragraphs = mail.body
    .split(/\n{2,}/)
    .map(p =>
      mail.kind === 'confirm' && /^https?:\/\/\S+\/c\/\S+$/.test(p.trim()) ? button(p.trim()) : paragraph(linked(p).replace(/\n/g, '<br>')),
    )
    .join('')
  const foot = mail.kind === 'confirm' ? e(ending) : `<a href="${e(leave)}" style="color:#5b6766">${e(ending)}</a>.`
  return {
    text: `${mail.body}\n\n--\n${mail.kind === 'confirm' ? ending : `${ending}: ${leave}`}\n`,
    html: `<!doctype html><html lang="en"><body style="margin:0;padding:24px;background:#f5f2ea;color:#1d2a2b;font:16px/24px sans-serif"><div style="max-width:560px;margin:0 auto;padding:26px;background:#fffdf9;border:1px solid #dcd6c6">${paragraphs}<p style="margin:22px 0 0;color:#5b6766;font-size:13px;line-height:19px">${foot}</p></div></body></html>`,
  }
}

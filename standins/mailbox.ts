import {
  createApp,
  createRouter,
  defineEventHandler,
  getRouterParam,
  readBody,
  setResponseHeader,
  setResponseStatus,
  sendRedirect,
} from 'h3'
import { simpleParser } from 'mailparser'
import { SMTPServer } from 'smtp-server'
import { readFileSync } from 'node:fs'
import { createTransport } from 'nodemailer'
import { page, portOf, serve, text } from './serve'

/**
 * Everybody's mailbox: takes any mail by SMTP and shows it. It can be made to fail:
 * `refuse` turns mail away for now, `slow` takes 8 s for each, `closed` does not listen at all. Whoever it is, there is no
 * mailbox for addresses that begin with “nobody”.
 */
type Mode = 'well' | 'refuse' | 'slow' | 'closed'
const MODES: Mode[] = ['well', 'refuse', 'slow', 'closed']
const MOST = 5000

interface Message {
  id: string
  from: string
  to: string
  subject: string
  text: string
  html: string
  /** Where to leave the list (RFC 2369), if the mail says so. */
  leave?: string
  /** Where replies go, if not to who sent it. */
  replyTo?: string
  receivedAt: string
  attachments?: { name: string; type: string; text: string }[]
}

const messages: Message[] = []
let mode: Mode = 'well'
let count = 0
let smtp = open()

function open(): SMTPServer {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    logger: false,
    size: 20 * 1024 * 1024,
    disableReverseLookup: true,
    closeTimeout: 500,
    onRcptTo({ address }, _session, done) {
      done(address.startsWith('nobody') ? Object.assign(new Error('There is no such mailbox'), { responseCode: 550 }) : null)
    },
    onData(stream, session, done) {
      void simpleParser(stream).then(
        async mail => {
          if (mode === 'slow') await new Promise(r => setTimeout(r, 8000))
          if (mode === 'refuse') return done(Object.assign(new Error('The mailbox is full, try later'), { responseCode: 452 }))
          const attachments = mail.attachments
            .filter(a => a.contentType.startsWith('text/'))
            .map(a => ({ name: a.filename ?? '', type: a.contentType, text: a.content.toString() }))
          const leave = (mail.headers.get('list') as { unsubscribe?: { url?: string } } | undefined)?.unsubscribe?.url
          messages.push({
            id: String(++count),
            from: mail.from?.text ?? '',
            to: session.envelope.rcptTo.map(r => r.address).join(', '),
            subject: mail.subject ?? '',
            text: mail.text ?? '',
            html: mail.html || '',
            receivedAt: new Date().toISOString(),
            ...(leave && { leave }),
            ...(mail.replyTo && { replyTo: mail.replyTo.text }),
            ...(attachments.length && { attachments }),
          })
          if (messages.length > MOST) messages.shift()
          done()
        },
        error => done(error),
      )
    },
  })
  server.on('error', () => {})
  server.listen(portOf('CAVLIN_SMTP_PORT'), '127.0.0.1')
  return server
}

async function change(next: Mode): Promise<void> {
  if (next === 'closed' && mode !== 'closed') await new Promise<void>(done => smtp.close(() => done()))
  if (next !== 'closed' && mode === 'closed') smtp = open()
  mode = next
}

const router = createRouter()
router.get(
  '/api/messages',
  defineEventHandler(() => [...messages].reverse()),
)
/** Somebody answers a mail: it goes to Cavlin as a mail server would bring it. */
router.post(
  '/api/messages/:id/answer',
  defineEventHandler(async event => {
    const message = messages.find(m => m.id === getRouterParam(event, 'id'))
    const {
      text: said = '',
      from,
      auto,
    } = ((await readBody(event).catch(() => null)) ?? {}) as { text?: string; from?: string; auto?: boolean }
    const wrong = (status: number, error: string) => {
      setResponseStatus(event, status)
      return { error }
    }
    if (!message) return wrong(404, 'There is no such mail.')
    if (!message.replyTo) return wrong(422, 'This mail says nowhere that it may be answered.')
    if (!said.trim()) return wrong(422, 'Send { "text": "…" }.')
    const quoted = message.text
      .split('\n')
      .map(line => `> ${line}`)
      .join('\n')
    const raw = await createTransport({ streamTransport: true, buffer: true }).sendMail({
      from: from ?? message.to,
      to: message.replyTo,
      subject: `Re: ${message.subject}`,
      text: `${said}\n\nOn ${new Date(message.receivedAt).toUTCString()}, ${message.from} wrote:\n${quoted}\n`,
      ...(auto && { headers: { 'auto-submitted': 'auto-replied' } }),
    })
    const { url, apiKey } = JSON.parse(readFileSync(process.env.CAVLIN_DEMO_FILE ?? '', 'utf8')) as { url: string; apiKey: string }
    if (mode === 'refuse' || mode === 'closed') return wrong(503, 'The mail server does not take it now.')
    const answer = await fetch(`${url}/api/v1/mails`, {
      method: 'POST',
      headers: { authorization: `Bearer ${apiKey}`, 'content-type': 'message/rfc822' },
      body: raw.message as unknown as BodyInit,
    })
    if (event.headers.get('accept')?.includes('text/html')) return sendRedirect(event, '/', 303)
    setResponseStatus(event, answer.ok ? 202 : answer.status)
    return answer.ok ? { ok: true } : { error: await answer.text() }
  }),
)
router.delete(
  '/api/messages',
  defineEventHandler(() => {
    messages.length = 0
    return { ok: true }
  }),
)
router.get(
  '/api/mode',
  defineEventHandler(() => ({ mode })),
)
router.post(
  '/api/mode',
  defineEventHandler(async event => {
    const next = ((await readBody(event).catch(() => null)) as { mode?: Mode } | null)?.mode
    if (!next || !MODES.includes(next)) {
      setResponseStatus(event, 422)
      return { error: `Send { "mode": one of ${MODES.join(', ')} }.` }
    }
    await change(next)
    if (event.headers.get('accept')?.includes('text/html')) return sendRedirect(event, '/', 303)
    return { mode }
  }),
)
router.get(
  '/messages/:id/html',
  defineEventHandler(event => {
    const message = messages.find(m => m.id === getRouterParam(event, 'id'))
    setResponseHeader(event, 'content-type', 'text/html; charset=utf-8')
    setResponseHeader(
      event,
      'content-security-policy',
      "default-src 'none'; style-src 'unsafe-inline'; sandbox allow-top-navigation-by-user-activation allow-popups",
    )
    if (message) return message.html || page(message.subject, `<pre>${text(message.text)}</pre>`)
    setResponseStatus(event, 404)
    return page('There is no such mail', '<p><a href="/">All mails</a></p>')
  }),
)
router.get(
  '/',
  defineEventHandler(event => {
    setResponseHeader(event, 'content-type', 'text/html; charset=utf-8')
    const list = [...messages]
      .reverse()
      .map(
        m =>
          `<details><summary><b>${text(m.subject)}</b><br><small>to ${text(m.to)}, ${text(m.receivedAt)}</small></summary><pre>${text(m.text)}</pre><p><a href="/messages/${m.id}/html">As it looks</a></p>${m.replyTo ? `<form method="post" action="/api/messages/${m.id}/answer"><label>Answer it<br><textarea name="text" rows="3" cols="60" required></textarea></label><br><button>Send the answer</button></form>` : ''}</details>`,
      )
    const modes = MODES.map(m => `<option${m === mode ? ' selected' : ''}>${m}</option>`).join('')
    return page(
      'Mailbox',
      `<form method="post" action="/api/mode"><label>The mail server is <select name="mode">${modes}</select></label> <button>Set</button></form>
<p>${messages.length === 1 ? '1 mail' : `${messages.length} mails`}. <a href="/">Look again</a></p>${list.join('')}`,
    )
  }),
)

const app = createApp()
app.use(router)
serve(app, portOf('CAVLIN_MAILBOX_PORT'))

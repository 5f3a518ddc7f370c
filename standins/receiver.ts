import {
  createApp,
  createRouter,
  defineEventHandler,
  getRequestHeaders,
  readBody,
  readRawBody,
  setResponseHeader,
  setResponseStatus,
} from 'h3'
import { page, portOf, serve, text } from './serve'

/** Another firm's system that takes webhooks: keeps what it gets, and answers as it is told to. */
interface Received {
  id: number
  at: string
  method: string
  path: string
  headers: Record<string, unknown>
  body: string
}

const received: Received[] = []
const MOST = 1000
let count = 0
let answer = 200

const router = createRouter()
router.get(
  '/api/requests',
  defineEventHandler(() => [...received].reverse()),
)
router.post(
  '/api/answer',
  defineEventHandler(async event => {
    const status = Number(((await readBody(event).catch(() => null)) as { status?: unknown } | null)?.status)
    if (!Number.isInteger(status) || status < 200 || status > 599) {
      setResponseStatus(event, 422)
      return { error: 'Send { "status": 200 to 599 }.' }
    }
    answer = status
    return { status }
  }),
)
router.get(
  '/',
  defineEventHandler(event => {
    setResponseHeader(event, 'content-type', 'text/html; charset=utf-8')
    const list = [...received]
      .reverse()
      .map(
        r =>
          `<details><summary>${text(r.method)} ${text(r.path)} <small>${text(r.at)}</small></summary><pre>${text(JSON.stringify(r.headers, null, 2))}\n\n${text(r.body)}</pre></details>`,
      )
    return page('Receiver', `<p>Answers ${answer}. ${received.length} received.</p>${list.join('')}`)
  }),
)

const app = createApp()
app.use(router)
app.use(
  defineEventHandler(async event => {
    received.push({
      id: ++count,
      at: new Date().toISOString(),
      method: event.method,
      path: event.path,
      headers: getRequestHeaders(event),
      body: (await readRawBody(event)) ?? '',
    })
    if (received.length > MOST) received.shift()
    setResponseStatus(event, answer)
    return { received: count }
  }),
)
serve(app, portOf('CAVLIN_RECEIVER_PORT'))

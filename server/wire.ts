import { sendRedirect, type H3Event } from 'h3'
import proxyAddr from 'proxy-addr'
import { check, type ClassConstructor } from '#core/validate'
import { pull } from '#server/body'
import { problem } from '#server/problem'
import { setting } from '#server/settings'

/** Bytes that a request to a public or team address may carry. */
export const MOST_BYTES = 64 * 1024
/** The same where a whole form, quiz or page is sent. */
export const MOST_DEFINITION_BYTES = 256 * 1024

/** No number that the database counts up goes beyond this. */
export const MOST_REVISION = 2 ** 31 - 1

const UTF8 = new TextDecoder('utf-8', { fatal: true })

/**
 * The body of a request as text, read only as far as the limit, and only while it comes.
 * @throws 413 over the limit, 408 when it does not come, 400 when it is not UTF-8
 */
export async function readText(event: H3Event, most = MOST_BYTES): Promise<string> {
  const bytes = await readBytes(event, most)
  try {
    return UTF8.decode(bytes)
  } catch {
    throw problem(400, 'The body is not UTF-8 text.')
  }
}

/** The body of a request as it came. @throws 413 over the limit, 408 when it does not come */
export async function readBytes(event: H3Event, most: number): Promise<Buffer> {
  const tooLarge = () => problem(413, `At most ${most / 1024} kB fit in one request.`)
  if (Number(header(event, 'content-length') ?? 0) > most) throw tooLarge()
  const chunks: Buffer[] = []
  await pull(event, { most, tooLarge, least: Infinity }, chunk => chunks.push(chunk))
  return chunks.length === 1 ? chunks[0]! : Buffer.concat(chunks)
}

/** A header of a request, by its name in lower case. h3's own way copies all headers each time that it is asked for one. */
export const header = (event: H3Event, name: string) => event.node.req.headers[name] as string | undefined

/** The media type of a request, without its parameters: `application/json`. */
export const mediaType = (event: H3Event) => (header(event, 'content-type') ?? '').split(';')[0]!.trim().toLowerCase()

/** A JSON body. @throws 415, 413 or 400 */
export async function readJson(event: H3Event, most = MOST_BYTES): Promise<unknown> {
  if (mediaType(event) !== 'application/json') throw problem(415, 'Send JSON, with the content type application/json.')
  return parseJson(await readText(event, most))
}

/** Nothing that we take is nested as deep as this. */
const DEEPEST = 40

/** @throws 400 when it is no JSON, or nested too deep; 422 for names that every object has, wherever they stand: no field is called so */
export function parseJson(text: string): unknown {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    throw problem(400, 'The body is not valid JSON. Check quotes, commas and brackets.')
  }
  lookInto(value, '', 0)
  return value
}

function lookInto(value: unknown, path: string, depth: number): void {
  if (typeof value !== 'object' || value === null) return
  if (depth > DEEPEST) throw problem(400, `The body is nested more than ${DEEPEST} deep.`)
  if (Array.isArray(value)) {
    for (let i = 0; i < value.length; i++) lookInto(value[i], path && `${path}.${i}`, depth + 1)
    return
  }
  for (const key of Object.keys(value)) {
    const at = path ? `${path}.${key}` : key
    if (key in Object.prototype)
      throw problem(422, 'Some fields are wrong; see the list.', [{ field: at, message: `There is no field “${key}” here. Leave it out.` }])
    lookInto((value as Record<string, unknown>)[key], at, depth + 1)
  }
}

/** A JSON body checked against a class. @throws as `readJson`, and 422 naming the fields */
export async function readChecked<T extends object>(event: H3Event, shape: ClassConstructor<T>, most?: number): Promise<T> {
  return checked(shape, await readJson(event, most))
}
/** What came over the wire, checked against its class. @throws 422 with each flaw */
export function checked<T extends object>(shape: ClassConstructor<T>, plain: unknown): T {
  const { value, flaws } = check(shape, plain)
  if (!value) throw problem(422, 'Some fields are wrong; see the list.', flaws)
  return value
}

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i

/** An id out of an address. @throws 404 when it cannot be one */
export function idFrom(event: H3Event, name = 'id'): string {
  const id = event.context.params?.[name] ?? ''
  if (!UUID.test(id)) throw problem(404, 'There is nothing with this id.')
  return id
}

/**
 * Who sends: the address of the connection, or what trusted proxies say of it, read from the right: what stands at the
 * left the sender wrote. Without CAVLIN_TRUST_PROXY the header counts for nothing.
 */
export function sender(event: H3Event): string {
  const { req } = event.node
  const own = req.socket.remoteAddress ?? 'unknown'
  const trusts = setting('CAVLIN_TRUST_PROXY')
  if (!trusts || !req.headers['x-forwarded-for']) return own
  try {
    return proxyAddr(req, trusts)
  } catch {
    // A proxy wrote something that is no address.
    return own
  }
}

/**
 * Leads a browser on: to an address that a marketer wrote, or to a path of ours. An address may hold letters of any script,
 * and a header may not: the address goes as browsers write it (WHATWG URL), and one that is none leads home.
 */
export function leadTo(event: H3Event, place: string, status: 301 | 303) {
  const isOurs = place.startsWith('/') && !place.startsWith('//')
  const base = 'http://here.invalid'
  const url = URL.canParse(place, isOurs ? base : undefined) ? new URL(place, isOurs ? base : undefined) : null
  return sendRedirect(event, !url ? '/' : isOurs ? url.href.slice(base.length) : url.href, status)
}

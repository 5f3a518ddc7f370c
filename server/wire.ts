import type { ClassConstructor } from 'class-transformer'
import { getRequestIP, type H3Event } from 'h3'
import { check } from '#core/validate'
import { problem } from '#server/problem'

/** Bytes that a request to a public or team address may carry. */
export const MOST_BYTES = 64 * 1024

const UTF8 = new TextDecoder('utf-8', { fatal: true })

/**
 * The body of a request as text, read only as far as the limit.
 * @throws 413 over the limit, 400 when it is not UTF-8
 */
export async function readText(event: H3Event, most = MOST_BYTES): Promise<string> {
  const tooLarge = () => problem(413, `At most ${most / 1024} kB fit in one request.`)
  if (Number(header(event, 'content-length') ?? 0) > most) throw tooLarge()
  const body = await new Promise<Buffer>((done, failed) => {
    const chunks: Buffer[] = []
    let size = 0
    event.node.req.on('data', (chunk: Buffer) => {
      size += chunk.length
      // What still comes is let run out, so that the answer can be read.
      if (size > most) failed(tooLarge())
      else chunks.push(chunk)
    }).on('end', () => done(chunks.length === 1 ? chunks[0]! : Buffer.concat(chunks))).on('error', failed)
      .on('close', () => { if (!event.node.req.complete) failed(problem(400, 'The request broke off before its end.')) })
  })
  try {
    return UTF8.decode(body)
  } catch {
    throw problem(400, 'The body is not UTF-8 text.')
  }
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

export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    throw problem(400, 'The body is not valid JSON. Check quotes, commas and brackets.')
  }
}

/** A JSON body checked against a class. @throws as `readJson`, and 422 naming the fields */
export async function readChecked<T extends object>(event: H3Event, shape: ClassConstructor<T>, most?: number): Promise<T> {
  const { value, flaws } = check(shape, await readJson(event, most))
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
 * Who sends: the address of the connection, or what a trusted proxy says of it.
 * Without CAVLIN_TRUST_PROXY the header is the sender's own word and counts for nothing.
 */
export function sender(event: H3Event): string {
  return getRequestIP(event, { xForwardedFor: process.env.CAVLIN_TRUST_PROXY === '1' }) ?? 'unknown'
}

import { Busboy, type BusboyHeaders } from '@fastify/busboy'
import type { H3Event } from 'h3'
import { MOST_FILES, MOST_MEGABYTES } from '#core/files/kinds'
import { pull } from '#server/body'
import { holder } from '#server/files/held'
import type { Upload } from '#server/files/inspect'
import { problem } from '#server/problem'
import { MOST_BYTES, header } from '#server/wire'

/** Megabytes that one request with files may carry in all. */
export const MOST_IN_ALL = 25
/** Bytes that each half minute of an upload must bring: a poor telephone line brings more. */
const LEAST = 480_000

export interface Multipart {
  fields: [string, string][]
  uploads: Upload[]
}

/**
 * A multipart/form-data body (RFC 7578), read only as far as the limits.
 * @param most bytes in all
 * @throws 413 over the limits, 408 when it drips, 400 or 422 when it cannot be read, 429 or 503 when too much is under way
 */
export async function readMultipart(event: H3Event, most: number): Promise<Multipart> {
  const tooLarge = () => problem(413, `At most ${most >= 1e6 ? `${Math.round(most / 1e6)} MB` : `${most / 1024} kB`} fit in one request.`)
  if (Number(header(event, 'content-length') ?? 0) > most) throw tooLarge()
  const got: Multipart = { fields: [], uploads: [] }
  let wrong: Error | null = null
  const note = (error: Error) => {
    wrong ??= error
  }
  const broken = () => note(problem(400, 'The form could not be read to its end. Send it again.'))
  const parser = parserOf(event)
  const parsed = new Promise<void>(done =>
    parser.once('finish', done).once('error', () => {
      broken()
      done()
    }),
  )
  parser
    .on('field', (name, value, _, valueTruncated) => {
      if (!isName(name)) return note(noName())
      if (valueTruncated) note(tooLarge())
      else got.fields.push([name, value])
    })
    .on('file', (field, stream, filename) => {
      const chunks: Buffer[] = []
      let whole = true
      // A body that ends inside a file says so here, and nobody else listens.
      stream
        .on('error', broken)
        .on('data', (chunk: Buffer) => chunks.push(chunk))
        .on('limit', () => {
          whole = false
        })
        .on('end', () => {
          const content = Buffer.concat(chunks)
          if (!isName(field)) note(noName())
          // An empty field of a form: no file was chosen.
          else if (filename || content.length) got.uploads.push({ field, name: filename ?? '', content, whole })
        })
    })
    .on('fieldsLimit', () => note(problem(422, 'At most 200 fields fit in one form.')))
    .on('filesLimit', () => note(problem(422, `At most ${MOST_FILES * 4} files fit in one form.`)))
  const hold = holder(event)
  await pull(event, { most, tooLarge, least: LEAST }, chunk => {
    hold(chunk.length)
    parser.write(chunk)
    if (wrong) throw wrong
  })
  parser.end()
  await Promise.race([parsed, new Promise(done => setTimeout(done, 2000))])
  if (!wrong && !parser.writableFinished) broken()
  if (wrong) throw wrong
  return got
}

function parserOf(event: H3Event): InstanceType<typeof Busboy> {
  try {
    return new Busboy({
      headers: event.node.req.headers as BusboyHeaders,
      limits: {
        fields: 220,
        fieldSize: MOST_BYTES,
        fieldNameSize: 200,
        files: MOST_FILES * 4,
        fileSize: MOST_MEGABYTES * 1e6 + 1,
        parts: 260,
        headerPairs: 20,
        headerSize: 8192,
      },
    })
  } catch {
    throw problem(400, 'The form’s boundary is missing. Send it again.')
  }
}

const isName = (name: unknown): name is string => typeof name === 'string' && name.length > 0 && name.length <= 200
const noName = () => problem(422, 'A part of the form has no name, or one of more than 200 mails. Name each field.')

import busboy from 'busboy'
import type { H3Event } from 'h3'
import { MOST_FILES, MOST_MEGABYTES } from '#core/files/kinds'
import type { Upload } from '#server/files/inspect'
import { problem } from '#server/problem'
import { MOST_BYTES, header } from '#server/wire'

/** Megabytes that one request with files may carry in all. */
export const MOST_IN_ALL = 25

export interface Multipart { fields: [string, string][]; uploads: Upload[] }

/**
 * A multipart/form-data body (RFC 7578), read only as far as the limits.
 * @param most bytes in all
 * @throws 413 over the limits, 400 when it cannot be read
 */
export async function readMultipart(event: H3Event, most: number): Promise<Multipart> {
  const tooLarge = () => problem(413, `At most ${most >= 1e6 ? `${Math.round(most / 1e6)} MB` : `${most / 1024} kB`} fit in one request.`)
  if (Number(header(event, 'content-length') ?? 0) > most) throw tooLarge()
  const got: Multipart = { fields: [], uploads: [] }
  await new Promise<void>((done, failed) => {
    const broken = () => failed(problem(400, 'The form could not be read to its end. Send it again.'))
    let parser: busboy.Busboy
    try {
      parser = busboy({
        headers: event.node.req.headers as busboy.BusboyConfig['headers'], defParamCharset: 'utf8',
        limits: { fields: 220, fieldSize: MOST_BYTES, fieldNameSize: 200, files: MOST_FILES * 4, fileSize: MOST_MEGABYTES * 1e6 + 1 },
      })
    } catch {
      return failed(problem(400, 'The form’s boundary is missing. Send it again.'))
    }
    let size = 0
    event.node.req.on('data', (chunk: Buffer) => {
      size += chunk.length
      if (size > most) {
        event.node.req.unpipe(parser)
        event.node.req.resume()
        failed(tooLarge())
      }
    }).on('close', () => { if (!event.node.req.complete) broken() })
    parser.on('field', (name, value, { valueTruncated }) => valueTruncated ? failed(tooLarge()) : got.fields.push([name, value]))
      .on('file', (field, stream, { filename }) => {
        const chunks: Buffer[] = []
        let whole = true
        stream.on('data', (chunk: Buffer) => chunks.push(chunk)).on('limit', () => { whole = false }).on('close', () => {
          const content = Buffer.concat(chunks)
          // An empty field of a form: no file was chosen.
          if (filename || content.length) got.uploads.push({ field, name: filename ?? '', content, whole })
        })
      })
      .on('fieldsLimit', () => failed(problem(422, 'At most 200 fields fit in one form.')))
      .on('filesLimit', () => failed(problem(422, `At most ${MOST_FILES * 4} files fit in one form.`)))
      .on('error', broken).on('close', () => done())
    event.node.req.pipe(parser)
  })
  return got
}

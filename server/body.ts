import type { H3Event } from 'h3'
import { problem } from '#server/problem'
import { setting } from '#server/settings'

/** A body is looked at so often: what it brought meanwhile must be enough. */
const windowMs = () => setting('CAVLIN_BODY_SECONDS') * 1000
/** What is refused may run out for so long, so that its answer can be read. */
const RUN_OUT_MS = 10_000

export interface Pace {
  /** Bytes in all. */
  most: number
  tooLarge: () => Error
  /** Bytes that each half minute must bring; Infinity: the whole must be there after the first. */
  least: number
}

/**
 * Takes a body in, chunk by chunk.
 * @throws 413 over the limit, 408 when it stands still or drips, 400 when it breaks off
 */
export function pull(event: H3Event, { most, tooLarge, least }: Pace, take: (chunk: Buffer) => void): Promise<void> {
  const { req, res } = event.node
  return new Promise((done, failed) => {
    let [size, lately, over] = [0, 0, false]
    const stop = (error: unknown) => {
      if (over) return
      end()
      // Whoever waited too long has an answer already.
      if (!res.headersSent) res.setHeader('connection', 'close')
      req.resume()
      setTimeout(() => {
        if (!req.complete) req.destroy()
      }, RUN_OUT_MS).unref()
      failed(error)
    }
    const windows = setInterval(() => {
      if (lately < least)
        stop(problem(408, 'The request came too slowly, or stopped on its way. Nothing was stored; send it again over a better line.'))
      lately = 0
    }, windowMs())
    const end = () => {
      over = true
      clearInterval(windows)
    }
    req
      .on('data', (chunk: Buffer) => {
        if (over) return
        size += chunk.length
        lately += chunk.length
        if (size > most) return stop(tooLarge())
        try {
          take(chunk)
        } catch (error) {
          stop(error)
        }
      })
      .on('end', () => {
        if (over) return
        end()
        done()
      })
      .on('error', () => stop(brokeOff()))
      .on('close', () => {
        if (!req.complete) stop(brokeOff())
      })
  })
}

const brokeOff = () => problem(400, 'The request broke off before its end.')

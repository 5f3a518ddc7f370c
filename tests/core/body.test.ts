import { PassThrough } from 'node:stream'
import type { H3Event } from 'h3'
import { expect, it } from 'vitest'
import { pull } from '#server/body'

it('says that a body broke off also when whoever sent it was answered already', async () => {
  const req = Object.assign(new PassThrough(), { complete: false })
  const res = {
    headersSent: true,
    setHeader: () => {
      throw new Error('Cannot set headers after they are sent')
    },
  }
  const taken = pull({ node: { req, res } } as unknown as H3Event, { most: 10, tooLarge: () => new Error('too large'), least: 1 }, () => {})
  expect(() => req.emit('error', new Error('reset'))).not.toThrow()
  await expect(taken).rejects.toThrow('broke off')
})

import { defineEventHandler } from 'h3'
import { problem } from '#server/problem'

export default defineEventHandler(() => {
  throw problem(404, 'There is nothing at this address.')
})

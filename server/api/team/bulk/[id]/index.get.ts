import { defineEventHandler } from 'h3'
import { bulkOf } from '#server/follow-up/bulk'

/** How far it has come. */
export default defineEventHandler(async event => (await bulkOf(event)).bulk)

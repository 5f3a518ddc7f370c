import { defineEventHandler } from 'h3'
import { turnBulk } from '#server/follow-up/bulk'

export default defineEventHandler(event => turnBulk(event, 'undo'))

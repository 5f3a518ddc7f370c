import { defineEventHandler } from 'h3'
import { bell } from '#db/notices'
import { database } from '#server/database'
import { memberOf } from '#server/session'

export default defineEventHandler(async event => bell(database(), (await memberOf(event)).id, 20))

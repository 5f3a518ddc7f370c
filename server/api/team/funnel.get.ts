import { defineEventHandler } from 'h3'
import { funnel } from '#db/funnel'
import { database } from '#server/database'
import { memberOf } from '#server/session'

export default defineEventHandler(async event => funnel(database(), (await memberOf(event)).id))

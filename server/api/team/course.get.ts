import { defineEventHandler } from 'h3'
import { course } from '#db/course'
import { database } from '#server/database'
import { memberOf } from '#server/session'

export default defineEventHandler(async event => course(database(), (await memberOf(event)).id))

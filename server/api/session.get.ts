import { defineEventHandler } from 'h3'
import { memberOf } from '#server/session'

export default defineEventHandler(event => memberOf(event))

import { defineEventHandler } from 'h3'
import { openApi } from '#server/open-api'

export default defineEventHandler(() => openApi(process.env.CAVLIN_URL ?? '/'))

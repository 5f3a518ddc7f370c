import { defineEventHandler } from 'h3'
import { openApi } from '#server/open-api'
import { ownAddress } from '#server/settings'

export default defineEventHandler(() => openApi(ownAddress() || '/'))

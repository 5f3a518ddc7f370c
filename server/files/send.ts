import { setResponseHeaders, type H3Event } from 'h3'
import { PICTURE_TYPES } from '#core/files/kinds'
import type { FileContent } from '#db/files'

/** Sends a file so that nothing in it can act here, whatever a browser takes it for. */
export function sendFile(event: H3Event, file: FileContent, cache: string): Buffer {
  const how = PICTURE_TYPES.includes(file.type) ? 'inline' : 'attachment'
  setResponseHeaders(event, {
    'content-type': file.type,
    'content-length': file.content.length,
    'cache-control': cache,
    'x-content-type-options': 'nosniff',
    'content-security-policy': "default-src 'none'; sandbox",
    // RFC 6266 and 8187: the name as it is, for all browsers of today.
    'content-disposition': `${how}; filename*=UTF-8''${encodeURIComponent(file.name).replace(/['()*]/g, c => `%${c.charCodeAt(0).toString(16)}`)}`,
    'cross-origin-resource-policy': 'cross-origin',
  })
  return file.content
}

import { isSigned, sign } from '#server/keys'
import { ownAddress } from '#server/settings'

const LENGTH = 22

/** Where a file of a conversation is to be had, for whoever got the line that it stands in. */
export const talkFileAddress = (id: string): string => `${ownAddress()}/w/chats/files/${id}.${sign('links', `talk file ${id}`, LENGTH)}`
/** The file that such an address is for; null when we did not write it. */
export function talkFileOf(token: string): string | null {
  const [id = '', given = '', rest] = token.split('.')
  return rest === undefined && /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(id) && isSigned('links', `talk file ${id}`, given, LENGTH)
    ? id
    : null
}

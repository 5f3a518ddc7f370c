import type { IncomingFile } from '#core/capture/intake'
import type { TalkFile } from '#core/chat/lines'
import { MOST_MEGABYTES, PLAIN_FILES, type FileRules } from '#core/files/kinds'

/** Files that go into a conversation at once, and of which kind where no question asks for them. */
export const MOST_AT_ONCE = 5
export const TALK_FILES: FileRules = { ...PLAIN_FILES, megabytes: MOST_MEGABYTES }

/** What a line says of its files. */
export const asTalkFiles = (files: readonly IncomingFile[]): TalkFile[] =>
  files.map(({ id, name, type, size }) => ({ id, name, type, size }))

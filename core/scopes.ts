/** What a program may be allowed to do with its key. */
export const SCOPES = ['leads:read', 'files:read', 'events:write', 'scorecards:learn', 'mails:write'] as const
export type Scope = (typeof SCOPES)[number]

export const SCOPE_WORDS: Record<Scope, string> = {
  'leads:read': 'Read leads and their answers',
  'files:read': 'Fetch files that visitors sent',
  'events:write': 'Add events that happened elsewhere',
  'scorecards:learn': 'Have scorecards learned, and score rows by them',
  'mails:write': 'Bring in mails that answer ours',
}

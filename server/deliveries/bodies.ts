/** What a mail says, as text and, for some, as HTML. */
export interface Bodies {
  text: string
  html?: string
}

import type { PointDefinition } from '#core/points/definition'

/** Where in the storyboard something stands. */
export type FrameName = 'invitation' | 'questions' | 'thanks' | 'mails' | 'inside' | 'theme' | 'where'

/**
 * Something wrong or doubtful. A stop blocks publishing, a hint does not.
 * `field` is a path into the definition, like `questions.2.label`.
 */
export interface Check {
  level: 'stop' | 'hint'
  frame: FrameName
  field: string
  message: string
  /** A way to put it right that needs no decision. */
  mend?: { name: string; apply: (definition: PointDefinition) => PointDefinition }
}

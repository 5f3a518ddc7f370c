import { Matches } from 'class-validator'
import { KEY, KEY_MESSAGE } from '#core/shapes'

/** What all actions have: a key by which two changes of a list of them are told apart. */
export class ActionShape {
  @Matches(KEY, { message: KEY_MESSAGE }) key!: string
}

import { IsIn, IsInt, IsString, Max, MaxLength, Min } from 'class-validator'
import { Flow } from '#core/chat/shapes'
import { Default } from '#core/shapes'
import { Nested } from '#core/validate'

/** Where the tab that opens a chat stands: in a corner below, or half way up the page's edge. */
export const TAB_PLACES = ['corner', 'edge'] as const
/** When somebody whom we do not know is asked for an address, beside what the flow asks: after their first message, or only when nobody is there. */
export const ADDRESS_ASKED = ['first', 'away'] as const
export const CHAT_LIMITS = { text: 300, days: 365, within: 2880 } as const

/** What makes a chat of a point: what it says, and how it goes on. Its tab and its greeting are what its appearance opens with and invites by. */
export class Chat {
  @Nested(() => Flow) flow!: Flow
  @Default('corner') @IsIn(TAB_PLACES) place!: (typeof TAB_PLACES)[number]
  /** For so many days a browser that agreed goes on with its conversation; 0: closing the window forgets it. */
  @Default(30) @IsInt() @Min(0) @Max(CHAT_LIMITS.days) keep!: number
  @Default('first') @IsIn(ADDRESS_ASKED) address!: (typeof ADDRESS_ASKED)[number]
  /** In which words the address is asked for. */
  @Default('') @IsString() @MaxLength(CHAT_LIMITS.text) addressText!: string
  /** Said when nobody is at work; when somebody answers is said after it. */
  @Default('') @IsString() @MaxLength(CHAT_LIMITS.text) away!: string
  /** Within so many working minutes the first answer of a person is promised. */
  @Default(10) @IsInt() @Min(1) @Max(CHAT_LIMITS.within) within!: number
}

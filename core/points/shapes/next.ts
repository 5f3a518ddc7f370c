import { Equals, IsInt, IsString, Max, MaxLength, Min } from 'class-validator'
import { SentFile } from '#core/points/shapes/theme'
import { Default } from '#core/shapes'
import { Nested } from '#core/validate'

class Message {
  @Equals('message') kind!: 'message'
}
class ThankYouPage {
  @Equals('page') kind!: 'page'
}
class Address {
  @Equals('address') kind!: 'address'
  @IsString() @MaxLength(2000) address!: string
}
class Download {
  @Equals('file') kind!: 'file'
  @Default(null) @Nested(() => SentFile) file!: SentFile | null
}
class ChooseMeeting {
  @Equals('meeting') kind!: 'meeting'
  @IsInt() @Min(10) @Max(240) minutes!: number
  @IsInt() @Min(1) @Max(60) days!: number
}

/**
 * What a visitor comes to after sending: the message where the form stood, a thank-you page of its
 * own, another address, a file to download, or a choice of times for a meeting with the owner.
 */
export const NEXTS = { message: Message, page: ThankYouPage, address: Address, file: Download, meeting: ChooseMeeting }
export type Next = Message | ThankYouPage | Address | Download | ChooseMeeting

/** What comes once an address is confirmed: the message, another address, or a file. */
export const CONFIRMED = { message: Message, address: Address, file: Download }
export type Confirmed = Message | Address | Download

/** Where the link of a mail leads: an address, or a file of ours. `message` stands for none. */
export const GOALS = CONFIRMED
export type Goal = Address | Download

import {
  ArrayMaxSize,
  ArrayUnique,
  Equals,
  IsBoolean,
  IsIn,
  IsInt,
  IsString,
  IsUUID,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator'
import type { Flaw } from '#core/flaws'
import { LANGUAGE_KEYS, type Language } from '#core/languages/language'
import { PAGE_LIMITS as MOST, type BlockKind } from '#core/pages/kinds'
import { HOUSE_THEME } from '#core/points/defaults'
import { Mark, Theme } from '#core/points/shapes/theme'
import { PAGE_VERSION, upgradedPage } from '#core/points/upgrade'
import { complete, Default, KEY, KEY_MESSAGE, ListOfKinds, read } from '#core/shapes'
import { ListOf, Nested } from '#core/validate'

const IsKey = () => Matches(KEY, { message: KEY_MESSAGE })
/** A line, or a text, that may be left out. */
const Line = (): PropertyDecorator => (target, field) =>
  [Default(''), IsString(), MaxLength(MOST.line)].forEach(rule => rule(target, field))
const Text = (): PropertyDecorator => (target, field) =>
  [Default(''), IsString(), MaxLength(MOST.text)].forEach(rule => rule(target, field))
/** A list of things with keys of their own. */
const Items =
  (type: () => new () => object): PropertyDecorator =>
  (target, field) =>
    [Default([]), ArrayMaxSize(MOST.items), ArrayUnique((i: { key: string }) => i?.key), ListOf(type)].forEach(rule => rule(target, field))

class BlockShape {
  @IsKey() key!: string
}

class Heading extends BlockShape {
  @Equals('heading') kind!: 'heading'
  @Text() text!: string
  @Line() under!: string
}
class Paragraphs extends BlockShape {
  @Equals('text') kind!: 'text'
  /** Markdown (CommonMark): paragraphs, emphasis, lists, links. No HTML. */
  @Text() text!: string
}
class PictureBlock extends BlockShape {
  @Equals('picture') kind!: 'picture'
  @Default(null) @Nested(() => Mark) picture!: Mark | null
  @Line() caption!: string
  @Default(false) @IsBoolean() wide!: boolean
}
class Benefit {
  @IsKey() key!: string
  @Line() title!: string
  @Text() text!: string
}
class Benefits extends BlockShape {
  @Equals('benefits') kind!: 'benefits'
  @Line() title!: string
  @Items(() => Benefit) items!: Benefit[]
}
class Quote extends BlockShape {
  @Equals('quote') kind!: 'quote'
  @Text() text!: string
  @Line() who!: string
}
class Answered {
  @IsKey() key!: string
  @Line() question!: string
  @Text() answer!: string
}
class QuestionsAndAnswers extends BlockShape {
  @Equals('answers') kind!: 'answers'
  @Line() title!: string
  @Items(() => Answered) items!: Answered[]
}
class PointBlock extends BlockShape {
  @Equals('point') kind!: 'point'
  @Default(null) @IsString() @Matches(/^[\w-]{1,60}$/) point!: string | null
}
class Snippet extends BlockShape {
  @Equals('snippet') kind!: 'snippet'
  /** What it is, for who does not see it, and for the checks. */
  @Line() title!: string
  /** HTML of somebody else. It runs in a frame of its own and reaches nothing of the page. */
  @Default('') @IsString() @MaxLength(MOST.snippet) html!: string
  /** The room that it keeps, in pixels, until it says how tall it is. */
  @Default(120) @IsInt() @Min(0) @Max(MOST.tall) height!: number
  /** Only for visitors who agreed that their visits are counted. */
  @Default(true) @IsBoolean() agreed!: boolean
}
class Link {
  @IsKey() key!: string
  @IsString() @MaxLength(MOST.line) text!: string
  @IsString() @MaxLength(MOST.address) address!: string
}
class Footer extends BlockShape {
  @Equals('footer') kind!: 'footer'
  @Text() text!: string
  @Items(() => Link) links!: Link[]
}

const BLOCKS = {
  heading: Heading,
  text: Paragraphs,
  picture: PictureBlock,
  benefits: Benefits,
  quote: Quote,
  answers: QuestionsAndAnswers,
  point: PointBlock,
  snippet: Snippet,
  footer: Footer,
}
export type BlockOf<K extends BlockKind> = InstanceType<(typeof BLOCKS)[K]>
export type Block = { [K in BlockKind]: BlockOf<K> }[BlockKind]

class Thanks {
  @IsString() @MaxLength(MOST.line) title!: string
  @IsString() @MaxLength(MOST.text) text!: string
  /** A way on; '' for none. */
  @IsString() @MaxLength(MOST.line) button!: string
  @IsString() @MaxLength(MOST.address) address!: string
}

/** A landing page as it is stored: what it says, block by block, and what comes when its point was answered. */
export class PageDefinition {
  static upgrade = upgradedPage
  @Equals(PAGE_VERSION, { message: `This Cavlin reads page definitions up to version ${PAGE_VERSION}` }) version!: typeof PAGE_VERSION
  /** The language of its texts. */
  @Default('en') @IsIn(LANGUAGE_KEYS) language!: Language
  /** What the browser's tab, search and shared links say. */
  @IsString() @Length(0, MOST.line) title!: string
  @Line() description!: string
  /** What shared links show (Open Graph). */
  @Default(null) @Nested(() => Mark) share!: Mark | null
  /** On wide screens: everything in one column, or the point beside what stands above it. */
  @Default('single') @IsIn(['single', 'beside']) layout!: 'single' | 'beside'
  @Default(HOUSE_THEME) @Nested(() => Theme) theme!: Theme
  @Default(null) @IsUUID() houseStyle!: string | null
  @ArrayMaxSize(MOST.blocks)
  @ArrayUnique((b: Block) => b?.key, { message: 'Two blocks have the same key' })
  @ListOfKinds(BLOCKS)
  blocks!: Block[]
  @Nested(() => Thanks) thanks!: Thanks
}

export type ReadPage = { page: PageDefinition; flaws: [] } | { page: null; flaws: Flaw[] }
/** Reads a page out of an untrusted value: shape, limits and kinds, not whether it may go live. */
export function readPage(plain: unknown): ReadPage {
  const { value, flaws } = read(PageDefinition, plain)
  return value ? { page: value, flaws: [] } : { page: null, flaws }
}

/** A stored page of an earlier day with what has come since. It was checked when it was stored. */
export const completedPage = (stored: unknown): PageDefinition => complete(PageDefinition, stored)

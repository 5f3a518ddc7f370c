import { ArrayMaxSize, ArrayUnique, Equals, IsBoolean, IsIn, IsInt, IsOptional, IsString, IsUUID, Length, Matches, Max, MaxLength, Min, ValidateIf } from 'class-validator'
import { HOUSE_THEME } from '#core/points/theme'
import { DEFINITION_VERSION, upgraded } from '#core/points/upgrade'
import { FileShape, ThemeShape, readTheme } from '#core/points/schema'
import { BLOCK_KINDS, PAGE_LIMITS as MOST, type Block, type BlockKind, type PageDefinition, type Picture, type ReadPage } from '#core/pages/definition'
import { check, ListOf, Nested } from '#core/validate'

const KEY = /^[a-z][a-z0-9_]{0,49}$/

class PictureShape {
  @Nested(() => FileShape) file!: FileShape
  @IsInt() @Min(1) @Max(20_000) width!: number
  @IsInt() @Min(1) @Max(20_000) height!: number
  @IsString() @MaxLength(MOST.line) alt!: string
}

class ItemShape {
  @Matches(KEY) key!: string
  @IsOptional() @IsString() @MaxLength(MOST.line) title?: string
  @IsOptional() @IsString() @MaxLength(MOST.line) question?: string
  @IsOptional() @IsString() @MaxLength(MOST.text) text?: string
  @IsOptional() @IsString() @MaxLength(MOST.text) answer?: string
}

class LinkShape {
  @Matches(KEY) key!: string
  @IsString() @MaxLength(MOST.line) text!: string
  @IsString() @MaxLength(MOST.address) address!: string
}

class BlockShape {
  @Matches(KEY) key!: string
  @IsIn(BLOCK_KINDS, { message: `The kind of a block must be one of ${BLOCK_KINDS.join(', ')}` }) kind!: BlockKind
  @IsOptional() @IsString() @MaxLength(MOST.text) text?: string
  @IsOptional() @IsString() @MaxLength(MOST.line) under?: string
  @IsOptional() @IsString() @MaxLength(MOST.line) title?: string
  @IsOptional() @IsString() @MaxLength(MOST.line) who?: string
  @IsOptional() @IsString() @MaxLength(MOST.line) caption?: string
  @IsOptional() @IsBoolean() wide?: boolean
  @IsOptional() @Nested(() => PictureShape) picture?: PictureShape | null
  @IsOptional() @ArrayMaxSize(MOST.items) @ArrayUnique((i: ItemShape) => i?.key) @ListOf(() => ItemShape) items?: ItemShape[]
  @ValidateIf(b => b.point !== null && b.point !== undefined) @IsString() @Matches(/^[\w-]{1,60}$/) point?: string | null
  @IsOptional() @ArrayMaxSize(MOST.items) @ArrayUnique((l: LinkShape) => l?.key) @ListOf(() => LinkShape) links?: LinkShape[]
}

class ThanksShape {
  @IsString() @MaxLength(MOST.line) title!: string
  @IsString() @MaxLength(MOST.text) text!: string
  @IsString() @MaxLength(MOST.line) button!: string
  @IsString() @MaxLength(MOST.address) address!: string
}

class PageShape {
  @Equals(DEFINITION_VERSION, { message: 'This Cavlin reads page definitions up to version 2' }) version!: 2
  @IsString() @Length(0, MOST.line) title!: string
  @IsOptional() @IsString() @MaxLength(MOST.line) description?: string
  @IsOptional() @Nested(() => PictureShape) share?: PictureShape | null
  @IsOptional() @IsIn(['single', 'beside']) layout?: 'single' | 'beside'
  @IsOptional() @Nested(() => ThemeShape) theme?: ThemeShape
  @IsOptional() @IsUUID() houseStyle?: string | null
  @ArrayMaxSize(MOST.blocks) @ArrayUnique((b: BlockShape) => b?.key, { message: 'Two blocks have the same key' }) @ListOf(() => BlockShape) blocks!: BlockShape[]
  @Nested(() => ThanksShape) thanks!: ThanksShape
}

/** Reads a page out of an untrusted value: shape, limits and kinds, not whether it may go live. */
export function readPage(plain: unknown): ReadPage {
  const { value, flaws } = check(PageShape, upgraded(plain))
  if (!value) return { page: null, flaws }
  const { title, thanks } = value
  return { flaws: [], page: {
    version: DEFINITION_VERSION, title, description: value.description ?? '', share: picture(value.share), layout: value.layout ?? 'single',
    theme: value.theme ? readTheme(value.theme) : HOUSE_THEME, houseStyle: value.houseStyle ?? null, blocks: value.blocks.map(block),
    thanks: { title: thanks.title, text: thanks.text, button: thanks.button, address: thanks.address },
  } }
}

const picture = (p: PictureShape | null | undefined): Picture | null => p ? { file: { id: p.file.id, name: p.file.name }, width: p.width, height: p.height, alt: p.alt } : null

/** Only what belongs to its kind. */
function block(b: BlockShape): Block {
  const { key, kind } = b
  const text = b.text ?? ''
  const title = b.title ?? ''
  switch (kind) {
    case 'heading': return { key, kind, text, under: b.under ?? '' }
    case 'text': return { key, kind, text }
    case 'picture': return { key, kind, picture: picture(b.picture), caption: b.caption ?? '', wide: b.wide ?? false }
    case 'benefits': return { key, kind, title, items: (b.items ?? []).map(i => ({ key: i.key, title: i.title ?? '', text: i.text ?? '' })) }
    case 'quote': return { key, kind, text, who: b.who ?? '' }
    case 'answers': return { key, kind, title, items: (b.items ?? []).map(i => ({ key: i.key, question: i.question ?? '', answer: i.answer ?? '' })) }
    case 'point': return { key, kind, point: b.point ?? null }
    case 'footer': return { key, kind, text, links: (b.links ?? []).map(l => ({ key: l.key, text: l.text, address: l.address })) }
  }
}

/** A stored page of an earlier day with what has come since. It was checked when it was stored. */
export const completedPage = (stored: PageDefinition): PageDefinition => ({ ...stored, theme: { ...HOUSE_THEME, ...stored.theme } })

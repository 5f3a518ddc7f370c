import satori, { type Font } from 'satori'
import sharp from 'sharp'
import { useStorage } from 'nitropack/runtime'
import type { PointDefinition } from '#core/points/definition'
import { mix, readableOn } from '#core/points/theme'
import { SHARED_SIZE } from '#core/quiz/limits'
import type { Result } from '#core/quiz/shapes'
import { cut, oneLine } from '#core/text'
import { assetFile } from '#db/files'
import { database } from '#server/database'

const PICTURE_WIDTH = 480

/** Letters for which there is a font here; a title in others has none that could be drawn. */
const DRAWN = /^[\p{Script=Latin}\p{Script=Common}\p{Script=Inherited}]*$/u

type Weight = 400 | 700
let fonts: Promise<Font[]> | undefined
const loadFonts = () =>
  Promise.all(
    (['latin', 'latin-ext'] as const).flatMap(letters =>
      ([400, 700] as Weight[]).map(async (weight): Promise<Font> => {
        const data = await useStorage('assets:letters').getItemRaw<Buffer>(`hanken-grotesk-${letters}-${weight}-normal.woff`)
        if (!data) throw new Error('The letters for shared pictures are not with the application.')
        return { name: 'Letters', data: Buffer.from(data), weight, style: 'normal' }
      }),
    ),
  )

type Piece = { type: 'div' | 'img'; props: Record<string, unknown> }
const box = (style: Record<string, unknown>, children?: Piece[] | string): Piece => ({
  type: 'div',
  props: { style: { display: 'flex', ...style }, children },
})

/** So many are kept: drawing one takes a tenth of a second and more, and whoever follows links must not take it again each time. */
const MOST_KEPT = 60
const drawn = new Map<string, Promise<Buffer>>()

/** What stands beside a link to a result. Of the same words, colours and picture it is drawn once. */
export function sharedPicture(definition: PointDefinition, result: Result): Promise<Buffer> {
  const key = JSON.stringify([definition.title, definition.theme, result.title, result.picture])
  const known = drawn.get(key)
  if (known) return known
  const fresh = draw(definition, result)
  drawn.set(key, fresh)
  fresh.catch(() => drawn.delete(key))
  if (drawn.size > MOST_KEPT) drawn.delete(drawn.keys().next().value!)
  return fresh
}

/** Draws what stands beside a link to a result: its title, the quiz, and the result's own picture, in the colours of the quiz. */
async function draw({ title, theme }: PointDefinition, result: Result): Promise<Buffer> {
  const { width, height } = SHARED_SIZE
  const picture = result.picture && (await pictureOf(result.picture.file.id))
  const [big, small] = [result.title, title].map(text => {
    const line = oneLine(text, 1000)
    return DRAWN.test(line) ? line : ''
  }) as [string, string]
  const words = box(
    { flexDirection: 'column', justifyContent: 'center', flexGrow: 1, width: picture ? width - PICTURE_WIDTH : width, padding: 72 },
    [
      box({ width: 88, height: 10, background: theme.accent, marginBottom: 36 }),
      box({ fontSize: big.length > 40 ? 58 : 74, fontWeight: 700, lineHeight: 1.15, color: theme.ink }, cut(big, 90)),
      box({ fontSize: 32, lineHeight: 1.35, marginTop: 28, color: mix(theme.ink, theme.sheet, 0.25) }, cut(small, 110)),
    ],
  )
  const whole = box(
    {
      width,
      height,
      background: theme.sheet,
      borderBottom: `18px solid ${theme.accent}`,
      color: readableOn(theme.sheet),
      fontFamily: 'Letters',
    },
    [
      words,
      ...(picture ? [{ type: 'img' as const, props: { src: picture, width: PICTURE_WIDTH, height, style: { objectFit: 'cover' } } }] : []),
    ],
  )
  fonts ??= loadFonts()
  const svg = await satori(whole as never, { width, height, fonts: await fonts })
  return await sharp(Buffer.from(svg)).png().toBuffer()
}

/** A picture of the house as it is set into another, in the size that it has there; none where it cannot be read. */
async function pictureOf(id: string): Promise<string | null> {
  const file = await assetFile(database(), id)
  if (!file) return null
  const fitted = await sharp(file.content, { limitInputPixels: 50e6 })
    .autoOrient()
    .resize({ width: PICTURE_WIDTH, height: SHARED_SIZE.height, fit: 'cover' })
    .jpeg()
    .toBuffer()
    .catch(() => null)
  return fitted && `data:image/jpeg;base64,${fitted.toString('base64')}`
}

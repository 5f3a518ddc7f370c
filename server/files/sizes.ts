import sharp from 'sharp'
import { widthsOf } from '#core/files/sizes'
import type { Sql } from '#db/client'
import { keepSizes, unsized, type Size } from '#db/files'

/** A picture that has more would take up the memory of everybody else. */
export const MOST_PIXELS = 50e6
const QUALITY = 78
// Whoever waits for a page comes first.
sharp.concurrency(1)

/**
 * A picture in the sizes that pages need, as WebP, upright and without what a camera wrote into it. Moving ones stay as they are.
 * @throws when it cannot be read
 */
export async function sizesOf(content: Buffer): Promise<Size[]> {
  const { pages, autoOrient } = await sharp(content, { limitInputPixels: MOST_PIXELS }).metadata()
  if ((pages ?? 1) > 1) return []
  const sizes: Size[] = []
  for (const width of widthsOf(autoOrient.width)) {
    const small = await sharp(content, { limitInputPixels: MOST_PIXELS })
      .autoOrient()
      .resize({ width })
      .webp({ quality: QUALITY })
      .toBuffer()
    // What is small already would only grow.
    if (width < autoOrient.width || small.length < content.length) sizes.push({ width, content: small })
  }
  return sizes
}

/** Makes the sizes of pictures that came before there were any, or with an archive. */
export async function sizeOldOnes(sql: Sql): Promise<void> {
  for (let picture = await unsized(sql); picture; picture = await unsized(sql)) {
    const sizes = await sizesOf(picture.content).catch(() => [])
    await sql.begin(tx => keepSizes(tx, picture!.id, sizes))
  }
}

/** The widths, in pixels, that pictures of ours are made in, as far as they are that wide. */
export const WIDTHS = [320, 480, 720, 960, 1280, 1920]
const WIDEST = WIDTHS.at(-1)!

/** In which widths a picture is to be had, narrowest first. @param width its own, in pixels */
export const widthsOf = (width: number): number[] =>
  [...WIDTHS.filter(w => w < width), Math.min(width, WIDEST)].filter((w, i, all) => all.indexOf(w) === i)

/** The narrowest of them that fills so many pixels, or the widest there is. */
export const widthFor = (width: number, pixels: number): number => widthsOf(width).find(w => w >= pixels) ?? Math.min(width, WIDEST)

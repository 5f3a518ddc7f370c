declare module 'snowball-stemmers' {
  const snowball: { newStemmer: (algorithm: string) => { stem: (word: string) => string } }
  export default snowball
}
declare module 'stopword' {
  /** Words that say nothing, by ISO 639-3. */
  export const ara: string[], deu: string[], fra: string[], nld: string[], pol: string[], spa: string[]
}

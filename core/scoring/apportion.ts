/**
 * Rounds parts to integers that add up to the rounded whole (Hamilton's method of
 * largest remainders), so that the lines of a score can be added up by hand.
 * @param parts real numbers
 * @returns integers, each within 1 of its part, whose sum is `Math.round` of the sum
 */
export function apportion(parts: number[]): number[] {
  const whole = Math.round(parts.reduce((a, b) => a + b, 0))
  const rounded = parts.map(Math.floor)
  const missing = whole - rounded.reduce((a, b) => a + b, 0)
  const byRemainder = parts
    .map((part, i) => ({ i, remainder: part - Math.floor(part) }))
    .sort((a, b) => b.remainder - a.remainder || a.i - b.i)
  for (const { i } of byRemainder.slice(0, missing)) rounded[i]!++
  return rounded
}

/**
 * How likely each of many whole numbers is: a table of doubles, open addressed. Made for some millions of keys, which a Map of
 * numbers holds at several times the memory and the time.
 */
export class SumsTable {
  private keys: Float64Array
  private masses: Float64Array
  private last: number
  /** How many numbers it holds. */
  size = 0

  /** @param room how many numbers are expected */
  constructor(room = 1024) {
    let slots = 16
    while (slots * 0.6 < room) slots *= 2
    this.keys = new Float64Array(slots).fill(-1)
    this.masses = new Float64Array(slots)
    this.last = slots - 1
  }

  /** @param key a whole number from 0, below 2⁵³ */
  add(key: number, mass: number): void {
    const { keys } = this
    let at = slotOf(key) & this.last
    while (keys[at] !== key) {
      if (keys[at] === -1) {
        keys[at] = key
        this.masses[at] = mass
        if (++this.size > 0.6 * this.last) this.grow()
        return
      }
      at = (at + 1) & this.last
    }
    this.masses[at]! += mass
  }

  forEach(visit: (key: number, mass: number) => void): void {
    const { keys, masses } = this
    for (let at = 0; at < keys.length; at++) if (keys[at] !== -1) visit(keys[at]!, masses[at]!)
  }

  private grow(): void {
    const before = { keys: this.keys, masses: this.masses }
    this.keys = new Float64Array(before.keys.length * 2).fill(-1)
    this.masses = new Float64Array(this.keys.length)
    this.last = this.keys.length - 1
    for (let i = 0; i < before.keys.length; i++) {
      const key = before.keys[i]!
      if (key === -1) continue
      let at = slotOf(key) & this.last
      while (this.keys[at] !== -1) at = (at + 1) & this.last
      this.keys[at] = key
      this.masses[at] = before.masses[i]!
    }
  }
}

/** Mixes all 53 bits; the constants are those of MurmurHash3's last step. */
function slotOf(key: number): number {
  let h = (key >>> 0) ^ Math.imul((key / 4294967296) | 0, 0x9e3779b1)
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return h ^ (h >>> 16)
}

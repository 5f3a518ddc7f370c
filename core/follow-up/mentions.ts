/**
 * Who is named in a note: `@` and the whole name, as it is spelled, in any case. Of names that begin alike the longest counts.
 * @returns their ids, each once, in the order in which they are named first
 */
export function mentionsIn(text: string, members: readonly { id: string; name: string }[]): string[] {
  const small = text.toLowerCase()
  const byLength = members.filter(m => m.name.trim()).toSorted((a, b) => b.name.length - a.name.length)
  const found: string[] = []
  for (let at = small.indexOf('@'); at >= 0; at = small.indexOf('@', at + 1)) {
    // An address is no name.
    if (at > 0 && /[\p{L}\p{N}.]/u.test(small[at - 1]!)) continue
    const named = byLength.find(
      m => small.startsWith(m.name.toLowerCase(), at + 1) && !/[\p{L}\p{N}]/u.test(small[at + 1 + m.name.length] ?? ' '),
    )
    if (named && !found.includes(named.id)) found.push(named.id)
  }
  return found
}

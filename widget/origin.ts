/** Where the visitor is and came from. Of the address's query only the UTM parameters go along: the rest may hold secrets. */
export function origin(): { page: string; referrer: string | null; utm: Record<string, string> } {
  const utm: Record<string, string> = {}
  for (const [name, value] of new URLSearchParams(location.search))
    if (/^utm_[a-z0-9_]{1,35}$/.test(name) && Object.keys(utm).length < 10) utm[name.slice(4)] = value.slice(0, 500)
  const from = document.referrer && !document.referrer.startsWith(`${location.origin}/`) ? document.referrer.split(/[?#]/)[0]! : null
  return { page: (location.origin + location.pathname).slice(0, 2000), referrer: from?.slice(0, 2000) ?? null, utm }
}

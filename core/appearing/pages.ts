import type { Facts } from '#core/conditions'

/** What conditions on pages may ask about, of an address and its title. */
export const pageFacts = ({ origin, pathname, search }: { origin: string; pathname: string; search: string }, title: string): Facts => name =>
  name === 'page.path' ? pathname : name === 'page.address' ? origin + pathname : name === 'page.title' ? title
    : name.startsWith('page.query.') ? new URLSearchParams(search).get(name.slice(11)) ?? undefined : undefined

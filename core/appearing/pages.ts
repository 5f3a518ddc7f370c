import type { Attributes } from '#core/conditions/condition'

/** What conditions on pages may ask about, of an address and its title. */
export const pageAttributes =
  ({ origin, pathname, search }: { origin: string; pathname: string; search: string }, title: string): Attributes =>
  name =>
    name === 'page.path'
      ? pathname
      : name === 'page.address'
        ? origin + pathname
        : name === 'page.title'
          ? title
          : name.startsWith('page.query.')
            ? (new URLSearchParams(search).get(name.slice(11)) ?? undefined)
            : undefined

import type { Deed } from '#core/scoring/score'

/** A page that was read, as something that may earn interest. */
export function pageDeed(at: number, path: string, title: string | null): Deed {
  return { kind: 'page_view', at, note: path, facts: name => name === 'page.path' ? path : name === 'page.title' ? title : undefined }
}

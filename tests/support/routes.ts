import { readdirSync } from 'node:fs'
import { join } from 'node:path'

export interface Route {
  method: string
  path: string
  file: string
}

/** All routes of the server, as their files name them: `GET /api/team/leads/{id}`. What answers for whatever is not there is left out. */
export function allRoutes(): Route[] {
  const files = (folder: string): string[] =>
    readdirSync(folder, { withFileTypes: true }).flatMap(e => (e.isDirectory() ? files(join(folder, e.name)) : [join(folder, e.name)]))
  return [...files('server/api'), ...files('server/routes')]
    .flatMap(file => {
      const [, name, method] = /^server\/(?:routes\/)?(.*?)\.(get|post|put|delete)\.ts$/.exec(file) ?? []
      if (!name) return []
      const path = `/${name.replace(/(^|\/)index$/, '')}`.replace(/\[(\w+)\]/g, '{$1}')
      return [{ method: method!.toUpperCase(), path, file }]
    })
    .sort((a, b) => (`${a.path} ${a.method}` < `${b.path} ${b.method}` ? -1 : 1))
}

/** A route's address with something in each of its places. */
export const addressOf = (route: Route, fill: (name: string) => string): string =>
  route.path.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(fill(name)))

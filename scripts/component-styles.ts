import { existsSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { css, Theme } from '@primeuix/styled'
import theme from '../app/theme'

/**
 * PrimeVue works out its styles in the browser, from a theme of some thousand values, on each load of a page. They are always the
 * same here: this works them out once, at build time, as a sheet that browsers keep. The components are told to bring none.
 */
const NAME = 'virtual:components.css'

/** The part of PrimeVue's style modules that is used here. */
interface ComponentStyle {
  style: string
  getCommonThemeStyleSheet: () => string
  getThemeStyleSheet: () => string
}

/** A Vite plugin: importing `virtual:components.css` brings the styles of these components, and of what they are made of. */
export const componentStyles = (components: string[]) => ({
  name: 'component-styles',
  enforce: 'pre' as const,
  resolveId: (id: string) => (id === NAME ? `\0${NAME}` : undefined),
  load: async (id: string) => (id === `\0${NAME}` ? used(await stylesOf(components)) : undefined),
})

/** @returns a sheet; its layer comes before ours, which says so itself */
async function stylesOf(components: string[]): Promise<string> {
  Theme.setTheme(theme as never)
  const { default: base } = (await import('@primevue/core/base/style')) as unknown as { default: ComponentStyle }
  // What all components share (how a thing looks that cannot be used) is no component's own.
  const parts = [base.getCommonThemeStyleSheet(), Theme.transformCSS('global-style', css`${base.style}` ?? '')]
  for (const name of madeOf(components)) {
    const { default: style } = (await import(`primevue/${name}/style`)) as { default: ComponentStyle }
    parts.push(style.getThemeStyleSheet())
  }
  return parts.join('\n').replace(/<\/?style[^>]*>/g, '\n')
}

/** Components with all that they are made of, each once. */
function madeOf(components: string[]): string[] {
  const found = new Set<string>()
  const look = (name: string) => {
    const at = (file: string) => fileURLToPath(new URL(`../node_modules/primevue/${name}/${file}`, import.meta.url))
    if (found.has(name) || !existsSync(at('style/index.mjs'))) return
    found.add(name)
    for (const [, inner] of readFileSync(at('index.mjs'), 'utf8').matchAll(/from 'primevue\/(\w+)'/g)) look(inner!)
  }
  components.map(name => name.toLowerCase()).forEach(look)
  return [...found]
}

/** A sheet without the variables that nothing in it asks for: whole palettes come along with a theme. */
export function used(sheet: string): string {
  for (let before = ''; before !== sheet;) {
    before = sheet
    const asked = new Set([...sheet.matchAll(/var\((--p-[\w-]+)/g)].map(m => m[1]))
    sheet = sheet.replace(/(--p-[\w-]+):[^;{}]*;?/g, (all, name: string) => (asked.has(name) ? all : ''))
  }
  return sheet
}

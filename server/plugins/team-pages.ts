import { defineNitroPlugin } from 'nitropack/runtime'
import { newNonce, teamPolicy } from '#server/front/headers'

/** The pages of the team's side get their policy, and their scripts and styles the word that lets them run. */
export default defineNitroPlugin(nitro => {
  nitro.hooks.hook('render:html', (html, { event }) => {
    const nonce = newNonce()
    // PrimeVue's module adds lists where there is nothing to add.
    const named = (chunks: string[]) =>
      chunks.filter(c => typeof c === 'string').map(c => c.replace(/<(script|style|link)(?=[\s>])/g, `<$1 nonce="${nonce}"`))
    html.head = named(html.head)
    html.bodyPrepend = named(html.bodyPrepend)
    html.bodyAppend = named(html.bodyAppend)
    event.node.res.setHeader('content-security-policy', teamPolicy(nonce))
    event.node.res.setHeader('cross-origin-opener-policy', 'same-origin')
    event.node.res.setHeader('cache-control', 'no-store')
  })
  nitro.hooks.hook('render:response', response => {
    delete response.headers?.['x-powered-by']
  })
})

import 'virtual:components.css'

/** PrimeVue writes some of its styles into the page: they carry the page's own word, without which its policy lets none in. */
export default defineNuxtPlugin(nuxtApp => {
  const nonce = document.querySelector<HTMLScriptElement>('script[nonce]')?.nonce
  const { config } = nuxtApp.vueApp.config.globalProperties.$primevue as { config: { csp?: { nonce?: string } } }
  config.csp = { nonce }
})

import { weekStartOf } from '~/composables/week-start'

/** Calendars begin with the day on which weeks begin where the house is. */
export default defineNuxtPlugin(nuxtApp => {
  const { config } = nuxtApp.vueApp.config.globalProperties.$primevue as { config: { locale: { firstDayOfWeek: number } } }
  nuxtApp.hook('app:created', () => {
    const house = useHouse()
    watch(
      () => house.words?.house.country,
      country => {
        if (country) config.locale = { ...config.locale, firstDayOfWeek: weekStartOf(country) }
      },
      { immediate: true },
    )
  })
})

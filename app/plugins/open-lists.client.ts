/** What opens over a page, spoken as it should be: lists stand in a region, what is hidden takes no focus, days are cells of a grid. */
export default defineNuxtPlugin(nuxtApp => {
  const { config } = nuxtApp.vueApp.config.globalProperties.$primevue as { config: { pt?: Record<string, unknown> } }
  // Who steps out of a list with Tab passes here; what is hidden from readers must not take their focus.
  const edge = { 'aria-hidden': undefined, role: undefined }
  const list = {
    overlay: { role: 'region', 'aria-label': 'Choices' },
    hiddenFirstFocusableEl: edge,
    hiddenLastFocusableEl: edge,
  }
  config.pt = {
    ...config.pt,
    select: list,
    // The tick of an option says what the option says already.
    multiselect: { ...list, pcOptionCheckbox: { input: { 'aria-hidden': 'true', disabled: true } } },
    datepicker: {
      day: { 'aria-selected': undefined },
      dayCell: ({ context }: { context: { selected: boolean } }) => ({ 'aria-selected': String(context.selected) }),
    },
  }
})

/** Whether list and detail fit beside each other. @param from so many pixels */
export function useWide(from = 901): Readonly<Ref<boolean>> {
  const wide = ref(false)
  onMounted(() => {
    const query = matchMedia(`(min-width: ${from}px)`)
    const look = () => {
      wide.value = query.matches
    }
    look()
    query.addEventListener('change', look)
    onScopeDispose(() => query.removeEventListener('change', look))
  })
  return wide
}

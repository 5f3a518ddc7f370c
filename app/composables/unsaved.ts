/** Asks before somebody leaves what they have changed and not kept. */
export function useUnsaved(changed: Ref<boolean>): void {
  const warn = (event: BeforeUnloadEvent) => {
    if (changed.value) event.preventDefault()
  }
  onMounted(() => window.addEventListener('beforeunload', warn))
  onBeforeUnmount(() => window.removeEventListener('beforeunload', warn))
  onBeforeRouteLeave(() => !changed.value || window.confirm('Your last changes are not kept. Leave all the same?'))
}

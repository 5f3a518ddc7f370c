/** Whether something was ever so: what is fetched then stays. */
export function useOnce(is: Ref<unknown>): Ref<boolean> {
  const was = ref(Boolean(is.value))
  watch(is, now => {
    if (now) was.value = true
  })
  return was
}

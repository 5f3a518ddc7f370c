/**
 * What somebody has half typed, kept in this browser until it is sent or thrown away: it outlives a reload, a lost line and a session
 * that ends. Another window takes it up when it begins, and neither overwrites what the other typed with nothing.
 * @param key what it is about; another key is another draft
 */
export function useDraft(key: MaybeRefOrGetter<string>): Ref<string> {
  const session = useSession()
  const place = computed(() => `cavlin.draft ${session.me?.id ?? ''} ${toValue(key)}`)
  const text = ref('')
  watch(
    place,
    at => {
      text.value = read(at)
    },
    { immediate: true },
  )
  watch(text, now => keep(place.value, now))
  return text
}
function read(place: string): string {
  try {
    return localStorage.getItem(place) ?? ''
  } catch {
    return ''
  }
}
function keep(place: string, text: string): void {
  try {
    if (text) localStorage.setItem(place, text)
    else localStorage.removeItem(place)
  } catch {
    /* it stands on the screen */
  }
}

const SHORT_MS = 3_500
/** Long enough to be read, and to be reached by keyboard. */
const LONG_MS = 10_000

/** Short words in the corner of the screen; what can be taken back offers to. */
export function useToasts() {
  const toast = useToast()
  /**
   * Says that something was done.
   * @param undo takes back what these words stand for
   * @param still whether it is as it was left; asked before it is taken back, for somebody may have gone on from there
   * @returns takes the words away, when what they stand for can be taken back no longer
   */
  function done(text: string, undo?: () => Promise<unknown>, still: () => boolean | Promise<boolean> = () => true): () => void {
    const detail =
      undo &&
      (async () => {
        if (!(await still())) throw new Error('It was changed since. Nothing was taken back.')
        await undo()
      })
    const message = { severity: 'success', summary: text, detail, life: undo ? LONG_MS : SHORT_MS, group: 'say' } as never
    toast.add(message)
    return () => toast.remove(message)
  }
  const failed = (error: unknown) =>
    toast.add({
      severity: 'error',
      summary: error instanceof Error ? error.message : 'This did not work. Try again in a moment.',
      life: 9000,
      group: 'say',
    })
  return { done, failed }
}

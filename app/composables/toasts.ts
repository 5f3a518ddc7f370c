/** Short words in the corner of the screen; what can be taken back offers to. */
export function useToasts() {
  const toast = useToast()
  return {
    done: (text: string, undo?: () => Promise<unknown>) => toast.add({ severity: 'success', summary: text, detail: undo, life: undo ? 10_000 : 3500, group: 'say' } as never),
    failed: (error: unknown) => toast.add({ severity: 'error', summary: error instanceof Error ? error.message : 'This did not work. Try again in a moment.', life: 9000, group: 'say' }),
  }
}

/** How much a chat's flow may hold. */
export const FLOW_LIMITS = { steps: 150, choices: 8, ways: 20, text: 1000, choice: 80 } as const
/** A text that is longer fills the window before it is read. */
export const LONG_TEXT = 320
export const STEP_KINDS = ['say', 'ask', 'do', 'branch', 'look_up', 'meet', 'hand_over', 'end'] as const
export type StepKind = (typeof STEP_KINDS)[number]

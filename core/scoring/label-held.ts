/** How a label is held beside the score: `floor`, at least this one; `fixed`, this one and no other. */
export const HOLDS = ['floor', 'fixed'] as const
export type Hold = (typeof HOLDS)[number]
/** A label that something or somebody holds. Moments in milliseconds since 1970. */
export interface LabelHeld {
  how: Hold
  /** Until when; null: for good. */
  until: number | null
  reason: string
  by: 'point' | 'person'
  /** The point's name, or the member's. */
  name: string
  at: number
  /** What was held before and is held again once this has ended. */
  under?: { label: string; held: LabelHeld | null } | null
}

/** Whether what was held has ended by a moment. */
export const hasEnded = (held: LabelHeld | null | undefined, at: number): boolean => held?.until != null && at >= held.until

/**
 * Holds a label for a lead, which is changed. What ends gives way again to what was held before.
 * @param label null: nothing is held any more
 */
export function hold(lead: { labelFloor: string | null; labelHeld: LabelHeld | null }, label: string | null, held: LabelHeld | null): void {
  const before = lead.labelFloor === null ? null : { label: lead.labelFloor, held: lead.labelHeld && { ...lead.labelHeld, under: null } }
  lead.labelFloor = label
  lead.labelHeld = label === null || !held ? null : { ...held, ...(held.until !== null && before && { under: before }) }
}

/** Ends what is held until a moment that has come. @returns the label that was held; null when nothing has ended */
export function endHold(lead: { labelFloor: string | null; labelHeld: LabelHeld | null }, at: number): string | null {
  if (!hasEnded(lead.labelHeld, at)) return null
  const was = lead.labelFloor
  const under = lead.labelHeld!.under
  lead.labelFloor = under?.label ?? null
  lead.labelHeld = under?.held ?? null
  return was
}

import type { ActionKind } from '#core/actions/action'
import type { SetNextStep } from '#core/actions/kinds/next-step/shape'
import { tell } from '#core/leads/book'

const DAY = 86_400_000

export const nextStep: ActionKind<SetNextStep> = {
  moment: 'promised',
  act({ text, days }, { step }) {
    const { lead } = step
    if (lead.nextStep !== null) return
    lead.nextStep = text
    lead.nextStepAt = step.at + days * DAY
    tell(step, 'next_step', { text, due: new Date(lead.nextStepAt).toISOString() })
  },
  says: ({ text, days }) => `has “${text}” as the next step ${days === 0 ? 'at once' : days === 1 ? 'a day later' : `${days} days later`}`,
}

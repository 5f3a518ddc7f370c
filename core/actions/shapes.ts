import { GiveLabel } from '#core/actions/kinds/label/shape'
import { PutOnLists } from '#core/actions/kinds/list/shape'
import { SendMail } from '#core/actions/kinds/mail/shape'
import { SetNextStep } from '#core/actions/kinds/next-step/shape'
import { GiveOwner } from '#core/actions/kinds/owner/shape'
import { SetProperty } from '#core/actions/kinds/property/shape'
import { PutTags } from '#core/actions/kinds/tag/shape'
import { TellColleagues } from '#core/actions/kinds/tell/shape'

/** What each kind of action says. What it does stands in its folder, and in `registry.ts`. */
export const ACTION_SHAPES = {
  label: GiveLabel,
  tag: PutTags,
  list: PutOnLists,
  property: SetProperty,
  owner: GiveOwner,
  next_step: SetNextStep,
  tell: TellColleagues,
  mail: SendMail,
}

export type ActionName = keyof typeof ACTION_SHAPES
export type ActionOf<K extends ActionName> = InstanceType<(typeof ACTION_SHAPES)[K]>
/** Anything that can be done to or for a lead. */
export type Action = { [K in ActionName]: ActionOf<K> }[ActionName]

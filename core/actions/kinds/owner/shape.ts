import { Equals, IsUUID } from 'class-validator'
import { ActionForSome } from '#core/actions/shape'

/** Who gets a lead that nobody has yet, whatever the routing plan says: a member's id. */
export class GiveOwner extends ActionForSome {
  @Equals('owner') kind!: 'owner'
  @IsUUID() owner!: string
}

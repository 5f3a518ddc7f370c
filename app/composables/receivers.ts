import { poolOf } from '#core/chat/pools'

/** Whom a conversation can be handed to beside colleagues: the lanes of the live plan that have people. */
export function useReceivers() {
  const house = useHouse()
  const pools = computed(() => house.words?.lanes.filter(l => l.people > 0) ?? [])
  const receiverName = (to: string) => {
    const pool = poolOf(to)
    return pool === null
      ? house.memberName(to)
      : `the people of ${house.words?.lanes.find(l => l.key === pool)?.name ?? 'a lane that is gone'}`
  }
  return { pools, receiverName }
}

import type { ArchiveHouse } from '#core/archive'
import type { House } from '#core/vocabulary'
import { sameHours } from '#core/working-time'
import { newId } from '#server/ids'

/** The firm as an archive has it, of this Cavlin or an earlier one. */
export function houseOf({ name, zone, country, currency, ...line }: ArchiveHouse): House {
  const week = line.week ?? sameHours(line.workingDays ?? [1, 2, 3, 4, 5], line.worksFrom ?? 8, line.worksUntil ?? 18)
  const holidays = (line.holidays ?? []).map(day => ({ id: newId(), ...day }))
  return { name, zone, country, currency, holidays, hours: { zone, week, off: holidays.map(({ from, until }) => ({ from, until })) } }
}

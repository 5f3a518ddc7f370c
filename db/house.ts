import type { Property } from '#core/properties/kinds'
import type { Holiday, House, JoinedLabel, JoinedStatus, Label, MailTopic, Status, Vocabulary } from '#core/vocabulary'
import { sameHours, type DaySpan } from '#core/working-time'
import type { Db } from '#db/client'

const ZONE = 'Europe/Paris'
const UNNAMED: HouseRow = { name: 'Your team', week: sameHours([1, 2, 3, 4, 5], 8, 18), zone: ZONE, country: 'FR', currency: 'EUR' }
type HouseRow = Omit<House, 'hours' | 'holidays'> & { week: DaySpan[][] }

/** The firm's own words: working hours, labels, statuses, properties, each in its order. */
export async function vocabulary(db: Db): Promise<Vocabulary> {
  const [[house = UNNAMED], holidays, labels, joinedLabels, statuses, joinedStatuses, properties, topics] = await Promise.all([
    db<HouseRow[]>`select name, week, zone, country, currency from house`,
    holidaysOf(db),
    db<Label[]>`select key, name, rank, qualified, response_target from label where joined_into is null order by rank`,
    db<JoinedLabel[]>`select key, name, joined_into as into from label where joined_into is not null`,
    db<Status[]>`select key, name, rank, stage, asks, reasons from status where joined_into is null order by rank`,
    db<JoinedStatus[]>`select key, name, stage, joined_into as into from status where joined_into is not null`,
    db<Property[]>`select key, label, kind, rank, sensitivity, choices, retired_at is not null as retired from property order by rank, key`,
    db<MailTopic[]>`select key, name, rank from mail_topic order by rank, key`,
  ])
  const { week, ...named } = house
  return {
    house: {
      ...named,
      holidays: [...holidays],
      hours: { zone: house.zone, week, off: holidays.map(h => ({ from: h.from, until: h.until })) },
    },
    labels,
    joinedLabels,
    statuses,
    joinedStatuses,
    properties,
    topics,
  }
}

/** Sets the words up, or changes the ones that exist; takes none away. */
export async function saveVocabulary(db: Db, v: Vocabulary): Promise<void> {
  const h = v.house
  await db`insert into house (one, name, week, zone, country, currency) values (true, ${h.name}, ${h.hours.week as never}::jsonb, ${h.zone}, ${h.country}, ${h.currency})
    on conflict (one) do update set name = excluded.name, week = excluded.week, zone = excluded.zone,
      country = excluded.country, currency = excluded.currency`
  for (const day of h.holidays) await addHoliday(db, day)
  for (const l of v.labels)
    await db`insert into label values (${l.key}, ${l.name}, ${l.rank}, ${l.qualified}, ${l.responseTarget})
      on conflict (key) do update set name = excluded.name, rank = excluded.rank, qualified = excluded.qualified, response_target = excluded.response_target`
  for (const s of v.statuses)
    await db`insert into status (key, name, rank, stage, asks, reasons) values (${s.key}, ${s.name}, ${s.rank}, ${s.stage}, ${s.asks ?? []}, ${s.reasons ?? []})
      on conflict (key) do update set name = excluded.name, rank = excluded.rank, stage = excluded.stage, asks = excluded.asks, reasons = excluded.reasons`
  for (const p of v.properties)
    await db`insert into property (key, label, kind, rank, sensitivity, choices, retired_at)
      values (${p.key}, ${p.label}, ${p.kind}, ${p.rank}, ${p.sensitivity}, ${p.choices as never}, ${p.retired ? new Date() : null})
      on conflict (key) do update set label = excluded.label, kind = excluded.kind, rank = excluded.rank, sensitivity = excluded.sensitivity, choices = excluded.choices`
  for (const t of v.topics)
    await db`insert into mail_topic values (${t.key}, ${t.name}, ${t.rank}) on conflict (key) do update set name = excluded.name, rank = excluded.rank`
}

/** Whether nothing has been set up yet. */
export async function isEmpty(db: Db): Promise<boolean> {
  const [row] = await db<{ some: boolean }[]>`select exists (select from member) as some`
  return !row!.some
}

/** The zone in which the house has its days. */
export const zoneOf = async (db: Db): Promise<string> => (await db<{ zone: string }[]>`select zone from house`)[0]?.zone ?? ZONE

/** The days on which nobody of the firm works, as they come. */
export const holidaysOf = (db: Db) =>
  db<Holiday[]>`select id, from_day::text as "from", until_day::text as until, name from holiday order by from_day, name`
export const addHoliday = (db: Db, { id, from, until, name }: Holiday) => db`
  insert into holiday (id, from_day, until_day, name) values (${id}, ${from}, ${until}, ${name}) on conflict (id) do nothing`
export const removeHoliday = (db: Db, id: string) => db`delete from holiday where id = ${id}`
/** When the firm works; where nothing is set up yet, it is from now on. */
export const setHours = (db: Db, week: DaySpan[][]) => db`
  insert into house (one, name, week, zone, country, currency) values (true, ${UNNAMED.name}, ${week as never}::jsonb, ${ZONE}, ${UNNAMED.country}, ${UNNAMED.currency})
  on conflict (one) do update set week = excluded.week`

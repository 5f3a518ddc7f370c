import type { Property } from '#core/properties/kinds'
import type { House, Label, MailTopic, Status, Vocabulary } from '#core/vocabulary'
import type { Db } from '#db/client'

const UNNAMED: House = { name: 'Your team', workingDays: [1, 2, 3, 4, 5], worksFrom: 8, worksUntil: 18, zone: 'Europe/Paris', country: 'FR', currency: 'EUR' }

/** The firm's own words: working hours, labels, statuses, properties, each in its order. */
export async function vocabulary(db: Db): Promise<Vocabulary> {
  const [[house], labels, statuses, properties, topics] = await Promise.all([
    db<House[]>`select name, working_days, works_from, works_until, zone, country, currency from house`,
    db<Label[]>`select key, name, rank, qualified, response_target from label order by rank`,
    db<Status[]>`select key, name, rank, stage from status order by rank`,
    db<Property[]>`select key, label, kind, rank, sensitivity, choices, retired_at is not null as retired from property order by rank, key`,
    db<MailTopic[]>`select key, name, rank from mail_topic order by rank, key`,
  ])
  return { house: house ?? UNNAMED, labels, statuses, properties, topics }
}

/** Sets the words up, or changes the ones that exist; takes none away. */
export async function saveVocabulary(db: Db, v: Vocabulary): Promise<void> {
  const h = v.house
  await db`insert into house ${db({ one: true, name: h.name, working_days: h.workingDays, works_from: h.worksFrom, works_until: h.worksUntil, zone: h.zone, country: h.country, currency: h.currency })}
    on conflict (one) do update set name = excluded.name, working_days = excluded.working_days, works_from = excluded.works_from, works_until = excluded.works_until, zone = excluded.zone,
      country = excluded.country, currency = excluded.currency`
  for (const l of v.labels)
    await db`insert into label values (${l.key}, ${l.name}, ${l.rank}, ${l.qualified}, ${l.responseTarget})
      on conflict (key) do update set name = excluded.name, rank = excluded.rank, qualified = excluded.qualified, response_target = excluded.response_target`
  for (const s of v.statuses)
    await db`insert into status values (${s.key}, ${s.name}, ${s.rank}, ${s.stage})
      on conflict (key) do update set name = excluded.name, rank = excluded.rank, stage = excluded.stage`
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
export const zoneOf = async (db: Db): Promise<string> => (await db<{ zone: string }[]>`select zone from house`)[0]?.zone ?? UNNAMED.zone

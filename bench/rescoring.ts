import type { Scorecard } from '#core/scoring/scorecard'
import type { House } from '../scripts/house'
import { cpuOf } from './cpu'
import { manager, thirtyRules } from './dry-run'
import { entriesOf, PLAIN } from './entries'
import { load, median } from './load'

const CONNECTIONS = 16
const WARM_SECONDS = 12
const SECONDS = 8
const ROUNDS = 4

/** What scoring takes of an entry's processor time: with thirty rules, and with none, turn about in the same run. */
export async function benchRescoring(house: House): Promise<void> {
  const as = await manager(house)
  const entry = entriesOf(PLAIN)
  const url = `${house.place.url}/w/points/form_visit/entries`
  const { workingCopy } = await as<{ workingCopy: Scorecard }>('/api/team/scorecard')
  const cards = {
    none: { ...workingCopy, fit: [], interest: [], groups: [], labels: workingCopy.labels.filter(l => l.fit <= 0 && l.interest <= 0) },
    thirty: thirtyRules(workingCopy),
  }
  const live = async (definition: Scorecard) => {
    const { revision } = await as<{ revision: number }>('/api/team/scorecard')
    const saved = await as<{ revision: number }>('/api/team/scorecard', 'PUT', { revision, definition })
    await as('/api/team/scorecard/publish', 'POST', { revision: saved.revision })
    while ((await as<{ isTakingEffect: boolean }>('/api/team/scorecard')).isTakingEffect) await new Promise(done => setTimeout(done, 200))
  }
  const used = () => cpuOf(house.children.app.pid()) + cpuOf(house.postmaster(), true)
  const spent: Record<keyof typeof cards, number[]> = { none: [], thirty: [] }
  await load(url, WARM_SECONDS, CONNECTIONS, entry)
  for (let round = 0; round < ROUNDS; round++) {
    for (const name of ['none', 'thirty'] as const) {
      await live(cards[name])
      // What the worker has still to do must not weigh on what is measured.
      await new Promise(done => setTimeout(done, 3000))
      const before = used()
      const { sent, failed } = await load(url, SECONDS, CONNECTIONS, entry)
      spent[name].push((used() - before) / sent)
      console.log(
        `  round ${round + 1}, ${name.padEnd(6)} ${spent[name].at(-1)!.toFixed(2)} ms of processor an entry, application and database${failed ? `, ${failed} FAILED` : ''}`,
      )
    }
  }
  const [none, thirty] = [median(spent.none), median(spent.thirty)]
  console.log(`RESCORING ${((1 - none / thirty) * 100).toFixed(0)}% of an entry's processor time with thirty rules (aim: at most 15%)`)
}

import { cpus } from 'node:os'
import { benchAssignments } from '../bench/assignments'
import { benchAuditor } from '../bench/auditor'
import { benchBalance } from '../bench/balance'
import { benchChat } from '../bench/chat'
import { benchDryRun } from '../bench/dry-run'
import { benchEditor } from '../bench/editor'
import { benchEntries } from '../bench/entries'
import { HARD } from '../bench/hard'
import { benchLeads } from '../bench/leads'
import { benchLearning } from '../bench/learning'
import { benchPlanRun } from '../bench/plan-run'
import { benchQuiz } from '../bench/quiz'
import { benchRescoring } from '../bench/rescoring'
import { benchResults } from '../bench/results'
import { benchPair } from '../bench/pair'
import { benchScreen } from '../bench/screen'
import { benchScript } from '../bench/script'
import { benchTrail } from '../bench/trail'
import { chromium } from './debian'
import { root } from './prepare.mjs'
import { houseToTry, placeToTry } from './try-place'

// npm run bench [-- assignments | auditor | balance | chat | dry-run | entries | hard | learning | pair | plan-run | leads | quiz | rescoring | results | screen | script | editor | trail]
const wanted = process.argv.slice(2)
const want = (part: string) => !wanted.length || wanted.includes(part)
const place = await placeToTry(root)
const { open, end } = houseToTry(place)
const tellMachine = (sharing: string) =>
  console.log(`\n${cpus().length} cores, ${cpus()[0]?.model}, Node ${process.versions.node}${sharing}\n`)

try {
  if (want('balance')) {
    tellMachine('')
    benchBalance()
    if (wanted.length === 1) await end(0)
  }
  if (want('learning')) {
    tellMachine('')
    benchLearning()
    if (wanted.length === 1) await end(0)
  }
  await chromium()
  const house = await open({ CAVLIN_LIMITS: 'off' })
  tellMachine('; database, application, worker and load share them.')
  if (want('auditor')) await benchAuditor(house)
  if (want('script')) await benchScript(house)
  if (want('screen')) await benchScreen(house)
  if (want('editor')) await benchEditor(house)
  if (want('entries')) await benchEntries(house, place.ports.app + 6)
  if (want('chat')) await benchChat(house)
  if (want('quiz')) await benchQuiz(house)
  if (want('hard')) await benchEntries(house, place.ports.app + 6, HARD)
  if (want('pair')) await benchPair(house, place.ports.app + 7)
  if (want('leads')) await benchLeads(house)
  if (want('dry-run')) await benchDryRun(house)
  if (want('plan-run')) await benchPlanRun(house)
  if (want('assignments')) await benchAssignments(house)
  if (want('rescoring')) await benchRescoring(house)
  if (want('results')) await benchResults(house)
  if (want('trail')) await benchTrail(house)
  await end(0)
} catch (error) {
  console.error(error)
  await end(1)
}

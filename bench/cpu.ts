import { readdirSync, readFileSync } from 'node:fs'

/** Clock ticks a second, in which Linux counts processor time (`proc(5)`). */
const TICKS = 100

/** Processor time, in ms, that a process and those under it have used so far; 0 for one that is gone. */
export function cpuOf(pid: number | undefined, withChildren = false): number {
  if (!pid) return 0
  const pids = withChildren ? [pid, ...childrenOf(pid)] : [pid]
  return pids.reduce((sum, p) => sum + ownCpu(p), 0)
}

function ownCpu(pid: number): number {
  try {
    // The name in brackets may hold blanks: fields are counted from behind it.
    const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ').at(-1)!.split(' ')
    return ((Number(fields[11]) + Number(fields[12])) * 1000) / TICKS
  } catch {
    return 0
  }
}

const childrenOf = (pid: number): number[] =>
  readdirSync('/proc')
    .filter(name => /^\d+$/.test(name))
    .map(Number)
    .filter(p => {
      try {
        return Number(readFileSync(`/proc/${p}/stat`, 'utf8').split(') ').at(-1)!.split(' ')[1]) === pid
      } catch {
        return false
      }
    })

import { createChallenge, extractParams, verifySolution } from 'altcha-lib/v1'
import type { Guards } from '#core/points/definition'
import { spendProof } from '#db/proofs'
import { underAttack } from '#server/capture/attack'
import { database } from '#server/database'
import { keysFor } from '#server/keys'

/** How many guesses a browser needs at most: about a second on a desktop, a few on a phone. */
const MOST_GUESSES = 40_000
const VALID_MS = 10 * 60_000
const secrets = () => keysFor('proofs').map(key => `proof ${key}`) as [string, ...string[]]

/** A small sum for a browser to work out before its entry is taken (a proof of work). It holds for one point and some minutes. */
export type Challenge = Awaited<ReturnType<typeof newChallenge>>
export const newChallenge = (point: string) =>
  createChallenge({ hmacKey: secrets()[0], maxnumber: MOST_GUESSES, expires: new Date(Date.now() + VALID_MS), params: { point } })

/** Whether a point asks for a proof just now: always, or while machines seem to be at it. */
export const asksForProof = async (point: string, { challenge }: Guards): Promise<boolean> =>
  challenge === 'always' || (challenge === 'attack' && (await underAttack(point)))

/** Whether somebody worked out one of our sums for this point, and uses it for the first time. @param proof anything */
export async function isProven(point: string, proof: unknown): Promise<boolean> {
  if (typeof proof !== 'string' || proof.length > 2000) return false
  try {
    const { signature, salt } = JSON.parse(Buffer.from(proof, 'base64').toString()) as { signature: unknown; salt: unknown }
    if (typeof signature !== 'string' || typeof salt !== 'string' || extractParams(proof).point !== point) return false
    const taken = await Promise.all(secrets().map(secret => verifySolution(proof, secret)))
    return taken.some(Boolean) && (await spendProof(database(), signature, new Date(Date.now() + 2 * VALID_MS)))
  } catch {
    return false
  }
}

import type { Db } from '#db/client'

/** Marks a proof as used. @returns false when it was used before */
export async function spendProof(db: Db, signature: string, until: Date): Promise<boolean> {
  return (await db`insert into spent_proof (signature, until) values (${signature}, ${until}) on conflict do nothing`).count === 1
}
export const forgetProofs = (db: Db, before: Date) => db`delete from spent_proof where until < ${before}`

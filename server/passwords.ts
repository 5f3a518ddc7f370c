import { randomBytes } from 'node:crypto'
import { Scrypt } from '@adonisjs/hash/drivers/scrypt'

/** scrypt as OWASP's Password Storage Cheat Sheet asks for it: N = 2^15, r = 8, p = 3 (32 MiB a try). */
const scrypt = new Scrypt({ cost: 2 ** 15, blockSize: 8, parallelization: 3, maxMemory: 64 * 1024 * 1024 })

/** A salted scrypt hash of a password, in the PHC format. */
export const hashPassword = (password: string): Promise<string> => scrypt.make(password)
/** Whether a password is the one that was hashed. */
export const verifyPassword = (hash: string, password: string): Promise<boolean> => scrypt.verify(hash, password).catch(() => false)
/** Whether a hash was made with less than what is asked for today. */
export const isOutdated = (hash: string): boolean => scrypt.needsReHash(hash)

let nobody: Promise<string> | undefined
/** A hash of nobody's password: who does not exist takes as long to refuse as a wrong password. */
export const nobodysHash = (): Promise<string> => (nobody ??= hashPassword(randomBytes(24).toString('hex')))

import { Scrypt } from '@adonisjs/hash/drivers/scrypt'

const scrypt = new Scrypt({})

/** A salted scrypt hash of a password, in the PHC format. */
export const hashPassword = (password: string): Promise<string> => scrypt.make(password)
/** Whether a password is the one that was hashed. */
export const verifyPassword = (hash: string, password: string): Promise<boolean> => scrypt.verify(hash, password)

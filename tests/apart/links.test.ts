import type { H3Event } from 'h3'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { newId } from '#server/ids'
import { briefly, pathOnly, unworded } from '#server/log'

const DAY = 86_400_000
afterEach(() => vi.unstubAllEnvs())
/** The module as it is with other keys. */
async function withKeys(keys: Record<string, string>) {
  vi.resetModules()
  for (const [name, value] of Object.entries(keys)) vi.stubEnv(`CAVLIN_KEYS_${name}`, value)
  return import('#server/signed-addresses')
}
const [OLD, NEW] = ['an-old-key-of-at-least-thirty-two-letters', 'a-new-key-of-at-least-thirty-two-letters!']

describe('signed addresses', () => {
  it('work for as long as what they do makes sense, and addresses to leave with for ever', async () => {
    const { signedToken, readToken, idOfToken } = await withKeys({})
    const lives = { confirm: 30, follow: 400, meet: 60, correct: 90, again: 90, arrived: 1, leave: Infinity } as const
    for (const [act, days] of Object.entries(lives) as [keyof typeof lives, number][]) {
      const made = Date.now() - 1000
      const id = newId(made)
      const token = signedToken(act, id, made)
      expect([act, idOfToken(act, token)]).toEqual([act, id])
      const at = (d: number) => readToken(act, token, made + d * DAY)?.over
      expect([act, at(Math.min(days, 4000) - 0.1), at(Math.min(days, 4000) + 2.1)]).toEqual([act, false, days !== Infinity])
      for (const other of Object.keys(lives) as (keyof typeof lives)[])
        if (other !== act) expect([act, other, readToken(other, token)]).toEqual([act, other, null])
    }
  })
  it('are nobody’s else: not cut, not mended, not of another day', async () => {
    const { signedToken, readToken } = await withKeys({})
    const id = newId()
    const token = signedToken('again', id)
    const [a, day, mark] = token.split('.') as [string, string, string]
    for (const wrong of [
      '',
      '.',
      token.slice(0, -1),
      `${token}x`,
      `${a}.${Number(day) + 1}.${mark}`,
      `${a}.${mark}`,
      `${newId()}.${day}.${mark}`,
      `${'x'.repeat(300)}.${mark}`,
    ])
      expect([wrong, readToken('again', wrong)]).toEqual([wrong, null])
  })
  it('end with their key, and no others with it; those to leave with outlive it', async () => {
    const id = newId()
    const before = await withKeys({ LINKS: OLD, LEAVE: OLD })
    const [confirm, leave] = [before.signedToken('confirm', id), before.signedToken('leave', id)]
    const kept = await withKeys({ LINKS: `${NEW}, ${OLD}`, LEAVE: OLD })
    expect([kept.idOfToken('confirm', confirm), kept.idOfToken('leave', leave)]).toEqual([id, id])
    const gone = await withKeys({ LINKS: NEW, LEAVE: `${NEW},${OLD}` })
    expect([gone.idOfToken('confirm', confirm), gone.idOfToken('leave', leave)]).toEqual([null, id])
  })
  it('are not signed with what anybody could guess', async () => {
    const { signedToken } = await withKeys({ LINKS: 'short' })
    expect(() => signedToken('confirm', newId())).toThrow(/^CAVLIN_KEYS_LINKS .* keys of at least 32 characters/)
  })
  it('stand in no mail that was sent', async () => {
    const { signedToken, withoutTokens } = await withKeys({})
    const tokens = [signedToken('confirm', newId()), signedToken('again', newId())]
    expect(withoutTokens(`Here: https://x.example/c/${tokens[0]} and /p/x?cavlin=${tokens[1]}.`)).toBe(
      'Here: https://x.example/c/… and /p/x?cavlin=….',
    )
  })
})

describe('who sends', () => {
  const from = async (trust: string, forwarded: string | undefined, own = '10.0.0.1') => {
    vi.stubEnv('CAVLIN_TRUST_PROXY', trust)
    const { sender } = await import('#server/wire')
    return sender({
      node: { req: { socket: { remoteAddress: own }, headers: { ...(forwarded !== undefined && { 'x-forwarded-for': forwarded }) } } },
    } as unknown as H3Event)
  }
  it.each([
    ['nobody is trusted', '', '203.0.113.9', '10.0.0.1'],
    ['one proxy: what it wrote, not what the sender wrote before it', '1', '198.51.100.1, 203.0.113.9', '203.0.113.9'],
    ['two proxies', '2', '198.51.100.1, 203.0.113.9, 10.0.0.2', '203.0.113.9'],
    ['networks: the first from the right that is none of theirs', '10.0.0.0/8', '198.51.100.1, 203.0.113.9, 10.0.0.7', '203.0.113.9'],
    ['a sender in nobody’s network', '192.168.0.0/16', '203.0.113.9', '10.0.0.1'],
    ['a proxy that wrote nothing', '1', undefined, '10.0.0.1'],
    ['nonsense at the left', '1', 'x; drop, 203.0.113.9', '203.0.113.9'],
  ])('%s', async (_, trust, forwarded, expected) => expect(await from(trust, forwarded)).toBe(expected))
  it('is not guessed from a setting that cannot be read', async () => {
    await expect(from('yes please', '1.2.3.4')).rejects.toThrow('how many proxies stand in front')
  })
})

describe('what stands in the log', () => {
  it('is where something went wrong, and nothing that anybody typed', () => {
    const error = Object.assign(new Error('Key (email_key)=(ada@secret.example) already exists.'), {
      code: '23505',
      constraint_name: 'lead_email_key_key',
      table_name: 'lead',
      detail: 'ada@secret.example',
      query: "select 'ada'",
      parameters: ['ada'],
    })
    expect(unworded(error)).toMatch(/^Error 23505 lead lead_email_key_key\n {4}at /)
    expect(unworded(error)).not.toContain('ada')
    expect(briefly(Object.assign(new Error('550 <ada@secret.example> is full'), { code: 'EENVELOPE', responseCode: 550 }))).toBe(
      'Error EENVELOPE 550',
    )
    expect([unworded(null), pathOnly('/api/team/leads?search=ada')]).toEqual(['Error', '/api/team/leads'])
  })
})

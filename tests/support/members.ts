import type { Demo } from './house'

export type As = <T = unknown>(path: string, method?: string, body?: unknown) => Promise<{ status: number; body: T }>

/** Asks as a member of a house of its own, who is signed in. @param who how their address begins */
export async function memberOf(demo: Demo, who: string): Promise<As> {
  const { email, password } = demo.members.find(m => m.email.startsWith(who))!
  const signed = await fetch(`${demo.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  })
  const cookie = signed.headers.getSetCookie()[0]!.split(';')[0]!
  return async <T>(path: string, method = 'GET', body?: unknown) => {
    const answer = await fetch(demo.url + path, {
      method,
      headers: { cookie, ...(body !== undefined && { 'content-type': 'application/json' }) },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    })
    const text = await answer.text()
    return { status: answer.status, body: (text ? JSON.parse(text) : null) as T }
  }
}

import { randomUUID } from 'node:crypto'
import { statSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { whoMay, type Act, type Role } from '#core/roles'
import { SCOPES, type Scope } from '#core/scopes'
import { addressOf, allRoutes } from '../support/routes'
import { demo, member, readDatabase, signedIn } from '../support/house'

/** Who may use a route: everybody; who is signed in; whose role may do something; programs with a scope. A new route needs a line. */
type Who = 'everybody' | 'members' | { act: Act } | { scope: Scope }
const act = (a: Act): Who => ({ act: a })
const DOORS: Record<string, Who> = {
  'GET /api/demo': 'everybody',
  'GET /api/session': 'members',
  'POST /api/session': 'everybody',
  'DELETE /api/session': 'everybody',
  'PUT /api/session/password': 'members',
  'GET /api/team/appearing': 'members',
  'PUT /api/team/appearing/order': act('edit points'),
  'GET /api/team/review': act('judge entries'),
  'POST /api/team/review/let-in': act('judge entries'),
  'POST /api/team/review/refuse': act('judge entries'),
  'POST /api/team/review/undo': act('judge entries'),
  'GET /api/team/review/waiting': act('judge entries'),
  'GET /api/team/review/compare': act('judge entries'),
  'PUT /api/team/review/apart': act('judge entries'),
  'POST /api/team/merges': act('judge entries'),
  'DELETE /api/team/merges/{id}': act('judge entries'),
  'GET /api/team/bell': 'members',
  'POST /api/team/bell': 'members',
  'PUT /api/team/leads/{id}/claims/{claim}': act('judge entries'),
  'PUT /api/team/leads/{id}/vouched': act('work leads'),
  'PUT /api/team/leads/{id}/label': act('work leads'),
  'GET /api/team/funnel': 'members',
  'GET /api/team/deliveries': act('manage deliveries'),
  'POST /api/team/deliveries/again': act('manage deliveries'),
  'POST /api/team/deliveries/{id}/again': act('manage deliveries'),
  'GET /api/team/files': 'members',
  'POST /api/team/files': act('edit points'),
  'GET /api/team/files/{id}': 'members',
  'GET /api/team/house': 'members',
  'GET /api/team/hosts': 'members',
  'POST /api/team/hosts': act('edit site'),
  'PUT /api/team/hosts/{name}': act('edit site'),
  'DELETE /api/team/hosts/{name}': act('edit site'),
  'PUT /api/team/points/{id}/host': act('edit points'),
  'GET /api/team/keys': act('manage keys'),
  'POST /api/team/keys': act('manage keys'),
  'PUT /api/team/keys/{id}/revoked': act('manage keys'),
  'GET /api/team/leads': 'members',
  'GET /api/team/leads/count': 'members',
  'GET /api/team/leads/{id}': 'members',
  'GET /api/team/leads/{id}/links': act('make links'),
  'DELETE /api/team/leads/{id}/browsers/{visitor}': act('work leads'),
  'PUT /api/team/leads/{id}/browsers/{visitor}': act('work leads'),
  'PUT /api/team/leads/{id}/lists': act('work leads'),
  'PUT /api/team/leads/{id}/next-step': act('work leads'),
  'POST /api/team/leads/{id}/notes': act('work leads'),
  'PUT /api/team/leads/{id}/owner': act('work leads'),
  'PUT /api/team/leads/{id}/status': act('work leads'),
  'POST /api/team/leads': act('work leads'),
  'PUT /api/team/leads/{id}/properties/{key}': act('work leads'),
  'PUT /api/team/leads/{id}/notes': act('work leads'),
  'POST /api/team/leads/{id}/files': act('work leads'),
  'GET /api/team/leads/{id}/timeline': 'members',
  'GET /api/team/leads/{id}/firm': 'members',
  'GET /api/team/leads/alike': 'members',
  'GET /api/team/hand-on': act('work leads'),
  'GET /api/team/hand-on/{member}': act('work leads'),
  'POST /api/team/holidays/calendar': act('edit plan'),
  'GET /api/team/leads/{id}/meetings/{meeting}': act('work leads'),
  'PUT /api/team/leads/{id}/meetings/{meeting}': act('work leads'),
  'DELETE /api/team/leads/{id}/meetings/{meeting}': act('work leads'),
  'POST /api/team/telling/try': 'members',
  'PUT /api/team/telling/texts': act('edit plan'),
  'PUT /api/team/leads/{id}/sent-back': act('work leads'),
  'GET /api/team/scorecard/sent-back': 'members',
  'GET /api/team/views': 'members',
  'POST /api/team/views': 'members',
  'PUT /api/team/views/{id}': 'members',
  'DELETE /api/team/views/{id}': 'members',
  'GET /api/team/ready-texts': 'members',
  'PUT /api/team/ready-texts/{id}': act('work leads'),
  'DELETE /api/team/ready-texts/{id}': act('work leads'),
  'POST /api/team/leads/{id}/mails': act('work leads'),
  'POST /api/v1/mails': { scope: 'mails:write' },
  'POST /api/team/leads/{id}/calls': act('work leads'),
  'POST /api/team/leads/{id}/undo': act('work leads'),
  'PUT /api/team/leads/{id}/accept': act('work leads'),
  'GET /api/team/statuses': 'members',
  'PUT /api/team/statuses': act('edit statuses'),
  'GET /api/team/board': 'members',
  'GET /api/team/today/team': act('edit plan'),
  'POST /api/team/bulk': act('work leads'),
  'GET /api/team/bulk/{id}': act('work leads'),
  'POST /api/team/bulk/{id}/stop': act('work leads'),
  'POST /api/team/bulk/{id}/undo': act('work leads'),
  'GET /api/team/calendar': 'members',
  'POST /api/team/calendar/feed': 'members',
  'DELETE /api/team/calendar/feed': 'members',
  'GET /calendar/{key}': 'everybody',
  'GET /api/team/reports': 'members',
  'GET /api/team/conversations/figures': 'members',
  'GET /api/team/conversations/take-away': 'members',
  'GET /api/team/conversations/waiting': 'members',
  'GET /api/team/conversations': 'members',
  'GET /api/team/conversations/{id}': 'members',
  'POST /api/team/conversations/{id}/messages': act('work leads'),
  'POST /api/team/conversations/{id}/seen': act('work leads'),
  'PUT /api/team/conversations/{id}/member': act('work leads'),
  'POST /api/team/conversations/{id}/end': act('work leads'),
  'POST /api/team/conversations/{id}/files': act('work leads'),
  'GET /api/team/notes': 'members',
  'PUT /api/team/notes/{id}': act('edit notes'),
  'DELETE /api/team/notes/{id}': act('edit notes'),
  'POST /api/team/notes/try': 'members',
  'POST /api/team/notes/page': act('edit notes'),
  'PUT /api/team/notes/setting': act('edit notes'),
  'PUT /api/team/notes/questions/{id}': act('edit notes'),
  'DELETE /api/team/notes/questions/{id}': act('edit notes'),
  'PUT /api/team/notes/unanswered': act('edit notes'),
  'POST /api/team/visits/{id}/speak': act('work leads'),
  'POST /w/chats': 'everybody',
  'POST /w/chats/said': 'everybody',
  'POST /w/chats/seen': 'everybody',
  'POST /w/chats/live': 'everybody',
  'POST /w/chats/files': 'everybody',
  'GET /w/chats/files/{token}': 'everybody',
  'POST /api/team/lists': 'members',
  'PUT /api/team/lists/{id}': act('edit segments'),
  'POST /api/team/lists/{id}/people': act('edit segments'),
  'POST /api/team/points/{id}/results': 'members',
  'POST /api/team/points/{id}/ends': 'members',
  'POST /api/team/points/{id}/respondents': 'members',
  'GET /api/team/points/{id}/take-away': 'members',
  'GET /api/team/leads/take-away': 'members',
  'GET /api/team/lists/{id}/imports': act('edit segments'),
  'POST /api/team/lists/{id}/imports/{import}/undo': act('edit segments'),
  'GET /api/team/live': 'members',
  'GET /api/team/members': act('manage members'),
  'PUT /api/team/members/{id}': act('manage members'),
  'GET /api/team/pages': 'members',
  'GET /api/team/places': 'members',
  'GET /api/team/points': 'members',
  'POST /api/team/points': act('edit points'),
  'GET /api/team/points/{id}': 'members',
  'PUT /api/team/points/{id}': act('edit points'),
  'PUT /api/team/points/{id}/archived': act('edit points'),
  'GET /api/team/points/{id}/copies': 'members',
  'GET /api/team/points/{id}/editions': 'members',
  'GET /api/team/points/{id}/editions/{number}': 'members',
  'PUT /api/team/points/{id}/editions/{number}': act('edit points'),
  'POST /api/team/points/{id}/here': 'members',
  'POST /api/team/points/{id}/publish': act('edit points'),
  'GET /api/team/today/points': 'members',
  'GET /api/team/texts': 'members',
  'PUT /api/team/texts': act('edit site'),
  'PUT /api/team/points/{id}/going-live': act('edit points'),
  'DELETE /api/team/points/{id}/going-live': act('edit points'),
  'POST /api/team/points/{id}/mail-test': act('edit points'),
  'GET /api/team/points/{id}/mail-samples': 'members',
  'POST /api/team/points/{id}/rehearsal': act('edit points'),
  'PUT /api/team/points/{id}/slug': act('edit points'),
  'GET /api/team/points/{id}/experiment': 'members',
  'GET /api/team/properties': 'members',
  'POST /api/team/properties': act('edit properties'),
  'PUT /api/team/properties/{key}': act('edit properties'),
  'GET /api/team/qualify': 'members',
  'GET /api/team/scorecard/square': 'members',
  'GET /api/team/scorecard/touched': 'members',
  'GET /api/team/leads/brief': 'members',
  'GET /api/team/scorecard': 'members',
  'PUT /api/team/scorecard': { act: 'edit scorecard' },
  'POST /api/team/scorecard/publish': { act: 'edit scorecard' },
  'GET /api/team/scorecard/editions/{number}': 'members',
  'GET /api/team/leads/{id}/score': 'members',
  'POST /api/team/labels/{key}/join': { act: 'edit scorecard' },
  'PUT /api/team/labels': { act: 'edit scorecard' },
  'GET /api/team/scorecard/suggestion': 'members',
  'POST /api/team/scorecard/suggestion': { act: 'edit scorecard' },
  'POST /api/team/scorecard/suggestion/take': { act: 'edit scorecard' },
  'POST /api/v1/scorecards/learn': { scope: 'scorecards:learn' },
  'POST /api/v1/scorecards/score': { scope: 'scorecards:learn' },
  'GET /api/v1/jobs/{id}': { scope: 'scorecards:learn' },
  'GET /api/team/scorecard/rules': 'members',
  'GET /api/team/scorecard/crossed': 'members',
  'GET /api/team/scorecard/proof': 'members',
  'GET /api/team/scorecard/dry-run': 'members',
  'POST /api/team/scorecard/dry-run': { act: 'edit scorecard' },
  'DELETE /api/team/scorecard/dry-run': { act: 'edit scorecard' },
  'GET /api/team/scorecard/dry-run/people': 'members',
  'GET /api/team/scorecard/dry-run/leads/{id}': 'members',
  'GET /api/team/route': 'members',
  'GET /api/team/plan': 'members',
  'PUT /api/team/plan': act('edit plan'),
  'POST /api/team/plan/publish': act('edit plan'),
  'GET /api/team/plan/editions/{number}': 'members',
  'POST /api/team/absences': 'members',
  'DELETE /api/team/absences/{id}': 'members',
  'PUT /api/team/hours': act('edit plan'),
  'PUT /api/team/members/{id}/hours': act('edit plan'),
  'GET /api/team/plan/dry-run': 'members',
  'POST /api/team/plan/dry-run': act('edit plan'),
  'DELETE /api/team/plan/dry-run': act('edit plan'),
  'GET /api/team/plan/dry-run/people': 'members',
  'GET /api/team/telling': 'members',
  'PUT /api/team/telling': 'members',
  'PUT /api/team/telling/insists': act('edit plan'),
  'POST /api/team/holidays': act('edit plan'),
  'DELETE /api/team/holidays/{id}': act('edit plan'),
  'GET /api/team/segments': 'members',
  'POST /api/team/segments': act('edit segments'),
  'POST /api/team/segments/count': 'members',
  'PUT /api/team/segments/{id}': act('edit segments'),
  'DELETE /api/team/segments/{id}': act('edit segments'),
  'GET /api/team/site': 'members',
  'PUT /api/team/site': act('edit site'),
  'GET /api/team/styles': 'members',
  'POST /api/team/styles': act('edit points'),
  'PUT /api/team/styles/{id}': act('edit points'),
  'GET /api/team/today': 'members',
  'GET /api/team/visits': 'members',
  'POST /api/team/visits/judged': 'members',
  'GET /api/v1/leads': { scope: 'leads:read' },
  'GET /api/v1/leads/{id}': { scope: 'leads:read' },
  'GET /api/v1/files/{id}': { scope: 'files:read' },
  'POST /api/v1/events': { scope: 'events:write' },
  'GET /api/v1/openapi.json': 'everybody',
  'GET /health': 'everybody',
  'GET /robots.txt': 'everybody',
  'GET /p/{slug}': 'everybody',
  'GET /p/{slug}/thanks': 'everybody',
  'GET /p/{slug}/snippets/{block}': 'everybody',
  'GET /p/{slug}/r/{result}': 'everybody',
  'GET /p/{slug}/r/{result}/picture': 'everybody',
  'GET /w/points/{key}/page': 'everybody',
  'POST /w/points/{key}/said': 'everybody',
  'GET /api/team/points/{id}/file': 'members',
  'GET /c/{token}': 'everybody',
  'POST /c/{token}': 'everybody',
  'GET /e/{token}': 'everybody',
  'POST /e/{token}': 'everybody',
  'GET /go/{token}': 'everybody',
  'GET /leave/{token}': 'everybody',
  'POST /leave/{token}': 'everybody',
  'GET /m/{token}': 'everybody',
  'POST /m/{token}': 'everybody',
  'GET /w/files/{id}/{name}': 'everybody',
  'GET /w/points/{key}': 'everybody',
  'POST /w/points/{key}/entries': 'everybody',
  'GET /w/site': 'everybody',
  'GET /w/hosts/known': 'everybody',
  'GET /w/hosts/arrived': 'everybody',
  'POST /w/trail': 'everybody',
  'POST /w/looks': 'everybody',
  'POST /w/unfinished': 'everybody',
  'GET /w/visitors/{id}/audience': 'everybody',
  'POST /w/visitors/{id}/forget': 'everybody',
}
const nameOf = (r: { method: string; path: string }) => `${r.method} ${r.path}`
const routes = allRoutes()

it('each route has a line that says who may use it, and no line is about nothing', () => {
  expect(Object.keys(DOORS).sort()).toEqual(routes.map(nameOf).sort())
})

type Actor = { name: string; headers: Record<string, string>; role?: Role; scope?: Scope }
async function actors(): Promise<Actor[]> {
  const orla = await signedIn('orla')
  const cookie = async (who: string) => {
    const { email, password } = member(who)
    const answer = await fetch(`${demo().url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email, password }),
    })
    return answer.headers.getSetCookie()[0]!.split(';')[0]!
  }
  const key = async (scope: Scope) =>
    ((await (await orla('/api/team/keys', 'POST', { name: `Doors ${scope}`, scopes: [scope], days: 1 })).json()) as { key: string }).key
  return [
    { name: 'nobody', headers: {} },
    ...(await Promise.all(
      [
        ['jonah', 'sales'],
        ['tamsin', 'marketer'],
        ['orla', 'admin'],
      ].map(async ([who, role]) => ({ name: role!, role: role as Role, headers: { cookie: await cookie(who!) } })),
    )),
    ...(await Promise.all(
      SCOPES.map(async scope => ({ name: `a key for ${scope}`, scope, headers: { authorization: `Bearer ${await key(scope)}` } })),
    )),
  ]
}
/** What stands in the way of somebody: 401, 403, or nothing. */
function barred(who: Who, { role, scope }: Actor): 401 | 403 | null {
  if (who === 'everybody') return null
  if (who === 'members') return role ? null : 401
  if ('scope' in who) return !scope ? 401 : scope === who.scope ? null : 403
  return !role ? 401 : whoMay(who.act).split(' or ').includes(role) ? null : 403
}

describe('every route, for everybody', () => {
  const who = actors()
  // Signing out comes last: it ends what the others need.
  const inOrder = [...routes].sort(
    (a, b) => Number(a.method === 'DELETE' && a.path === '/api/session') - Number(b.method === 'DELETE' && b.path === '/api/session'),
  )
  it.each(inOrder.map(r => [nameOf(r), r] as const))('%s', async (name, route) => {
    for (const actor of await who) {
      const stop = new AbortController()
      const body =
        route.method === 'GET' || route.method === 'DELETE' ? {} : { body: '{}', headers: { 'content-type': 'application/json' } }
      const answer = await fetch(demo().url + addressOf(route, () => randomUUID()), {
        method: route.method,
        redirect: 'manual',
        signal: stop.signal,
        ...body,
        headers: { ...actor.headers, ...body.headers },
      })
      const expected = barred(DOORS[name]!, actor)
      // Signing in with nothing is refused as nothing, not as somebody.
      if (expected) expect([actor.name, answer.status]).toEqual([actor.name, expected])
      else
        expect([actor.name, [401, 403].includes(answer.status) && answer.status, answer.status < 500 || answer.status === 503]).toEqual([
          actor.name,
          false,
          true,
        ])
      stop.abort()
    }
  })
})

describe('what changes something for a member', () => {
  it.each([
    ['from another site', { origin: 'https://evil.example' }],
    ['from a frame of nobody', { origin: 'null' }],
    ['across sites, as browsers say', { 'sec-fetch-site': 'cross-site' }],
    ['from a sister site', { 'sec-fetch-site': 'same-site' }],
    ['with the right site and the wrong origin', { 'sec-fetch-site': 'same-origin', origin: 'https://evil.example' }],
  ])('is refused %s', async (_, headers) => {
    const { email, password } = member('jonah')
    const at = demo().url
    const signIn = await fetch(`${at}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email, password }),
    })
    const cookie = signIn.headers.getSetCookie()[0]!.split(';')[0]!
    const send = (path: string, method: string, more: Record<string, string> = {}) =>
      fetch(at + path, {
        method,
        headers: { cookie, 'content-type': 'application/json', ...(headers as Record<string, string>), ...more },
        body: '{}',
      }).then(r => r.status)
    expect([await send('/api/team/bell', 'POST'), await send('/api/session', 'DELETE'), await send('/api/session', 'POST')]).toEqual([
      403, 403, 403,
    ])
    // And taken from our own pages.
    const own = await fetch(`${at}/api/team/bell`, {
      method: 'POST',
      headers: { cookie, 'content-type': 'application/json', origin: new URL(at).origin, 'sec-fetch-site': 'same-origin' },
      body: '{}',
    })
    expect(own.status).toBe(204)
  })
})

describe('keys of programs', () => {
  it('work until their day, and say what they may', async () => {
    const orla = await signedIn('orla')
    const name = `Expires ${randomUUID()}`
    const { key } = (await (await orla('/api/team/keys', 'POST', { name, scopes: ['leads:read'], days: 1 })).json()) as { key: string }
    const ask = () => fetch(`${demo().url}/api/v1/leads?limit=1`, { headers: { authorization: `Bearer ${key}` } }).then(r => r.status)
    expect(await ask()).toBe(200)
    const listed = ((await (await orla('/api/team/keys')).json()) as { name: string; scopes: string[]; expiresAt: string }[]).find(
      k => k.name === name,
    )!
    expect([listed.scopes, Math.round((Date.parse(listed.expiresAt) - Date.now()) / 3_600_000)]).toEqual([['leads:read'], 24])
    await readDatabase(sql => sql`update api_key set expires_at = now() - interval '1 second' where name = ${name}`)
    expect(await ask()).toBe(401)
  })
  it.each([
    [{ name: 'x', scopes: [], days: null }, 'scopes'],
    [{ name: 'x', scopes: ['leads:write'], days: null }, 'scopes'],
    [{ name: 'x', scopes: ['leads:read'], days: 0 }, 'days'],
    [{ name: ' ', scopes: ['leads:read'], days: null }, 'name'],
  ])('are refused as %j', async (body, field) => {
    const orla = await signedIn('orla')
    const answer = await orla('/api/team/keys', 'POST', body)
    expect([answer.status, ((await answer.json()) as { errors: { field: string }[] }).errors.map(e => e.field)]).toEqual([422, [field]])
  })
})

describe('the house itself', () => {
  it('gives the application a role of the database that owns its own and may do nothing else', async () => {
    const [role] = await readDatabase(
      sql => sql<{ name: string; powers: boolean; owns: boolean }[]>`
      select current_user as name, rolsuper or rolcreaterole or rolcreatedb or rolreplication or rolbypassrls as powers, pg_get_userbyid(d.datdba) = current_user as owns
      from pg_roles, pg_database d where rolname = current_user and d.datname = current_database()`,
    )
    expect(role).toEqual({ name: 'cavlin', powers: false, owns: true })
  })
  it('keeps the passwords of the demo for its owner', () => {
    for (const file of [process.env.CAVLIN_TEST_DEMO!, process.env.CAVLIN_TEST_DEMO!.replace('demo.json', 'secrets.json')])
      expect([file, (statSync(file).mode & 0o777).toString(8)]).toEqual([file, '600'])
  })
})

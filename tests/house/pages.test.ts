import { describe, expect, it } from 'vitest'
import { blankPage, type PageDefinition } from '#core/pages/definition'
import { form } from '../support/forms'
import { demo, send, signedIn, somebody } from '../support/house'

let made = 0
async function page(change: (p: PageDefinition) => void, live = true) {
  const as = await signedIn('tamsin')
  const name = `Page ${process.pid} ${++made}`
  const { id } = (await (await as('/api/team/points', 'POST', { kind: 'page', name })).json()) as { id: string }
  const definition = blankPage(name)
  change(definition)
  const saved = await as(`/api/team/points/${id}`, 'PUT', { revision: 1, name, definition })
  const { revision, errors } = (await saved.json()) as { revision: number; errors?: { field: string; message: string }[] }
  const published = live && saved.ok ? await as(`/api/team/points/${id}/publish`, 'POST', { revision }) : null
  const body = published && ((await published.json()) as { slug: string; errors?: { field: string; message: string }[] })
  return { as, id, status: published?.status ?? saved.status, errors: body?.errors ?? errors, slug: body?.slug ?? '', revision }
}
const at = (path: string, init?: RequestInit) => fetch(`${demo().url}${path}`, { redirect: 'manual', ...init })

describe('a landing page', () => {
  it('says what it should, as text, and what shared links show', async () => {
    const f = await form(() => {})
    const p = await page(d => {
      d.title = 'Gläser & <b>Licht</b>'
      d.description = 'What "it" is'
      d.blocks.push({
        key: 'text_1',
        kind: 'text',
        text: '**Bold** <script>alert(1)</script> [no](javascript:alert(1)) [yes](https://larkmoss.example/a)',
      })
      d.blocks[1] = { key: 'point_1', kind: 'point', point: f.key }
    })
    expect(p.status).toBe(200)
    const html = await (await at(`/p/${p.slug}`)).text()
    expect(html).toContain('<title>Gläser &#38; &#60;b&#62;Licht&#60;/b&#62;</title>')
    expect(html).toContain('property="og:description" content="What &#34;it&#34; is"')
    expect(html).toContain('<strong>Bold</strong>')
    expect(html).not.toContain('<script>alert')
    expect(html).not.toContain('href="javascript:')
    expect(html).toContain('href="https://larkmoss.example/a"')
    expect(html.match(/<h1/g)).toHaveLength(1)
    expect(html).toContain(`action="/w/points/${f.key}/entries"`)
  })
  it.each(['message', 'page', 'file', 'meeting'] as const)(
    'leads to its own thanks however the form goes on, with and without a script: %s',
    async kind => {
      const as = await signedIn('tamsin')
      const asset = ((await (await as('/api/team/files')).json()) as { id: string; name: string }[]).find(a => a.name.endsWith('.pdf'))!
      const f = await form(d => {
        d.next =
          kind === 'meeting'
            ? { kind, minutes: 30, days: 14 }
            : kind === 'file'
              ? { kind, file: { id: asset.id, name: asset.name } }
              : { kind }
      })
      const p = await page(d => {
        d.blocks[1] = { key: 'point_1', kind: 'point', point: f.key }
      })
      const sent = (type: string, body: string) =>
        at(`/w/points/${f.key}/entries`, { method: 'POST', headers: { 'content-type': type }, body })
      const { next } = (await (
        await sent('application/json', JSON.stringify({ answers: { email: somebody('on') }, landing: p.slug }))
      ).json()) as { next: { kind: string; url: string } }
      const plain = await sent(
        'application/x-www-form-urlencoded',
        new URLSearchParams({ email: somebody('on'), _landing: p.slug }).toString(),
      )
      expect([next.kind, new URL(next.url).pathname, plain.status, plain.headers.get('location')!.split('?')[0]]).toEqual([
        'page',
        `/p/${p.slug}/thanks`,
        303,
        `/p/${p.slug}/thanks`,
      ])
      for (const url of [next.url, demo().url + plain.headers.get('location')!]) {
        const thanks = await (await fetch(url)).text()
        if (kind === 'file') expect(thanks).toContain(`Download ${asset.name}`)
        if (kind === 'meeting') expect((await fetch(/href="([^"]*\/m\/[^"]+)"[^>]*>Choose a time/.exec(thanks)![1]!)).status).toBe(200)
      }
    },
  )
  it('leads to its own thanks, with and without a script, and the entry says where it came through', async () => {
    const f = await form(() => {})
    const p = await page(d => {
      d.blocks[1] = { key: 'point_1', kind: 'point', point: f.key }
      d.thanks = { title: 'Yours now', text: 'Read *this*.', button: 'On', address: 'https://larkmoss.example/on' }
    })
    const email = somebody('landing')
    const json = await fetch(`${demo().url}/w/points/${f.key}/entries`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ answers: { email }, landing: p.slug }),
    })
    expect(await json.json()).toMatchObject({ next: { kind: 'page', url: `${demo().url}/p/${p.slug}/thanks` } })
    const plain = await at(`/w/points/${f.key}/entries`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ email: somebody('landing'), _landing: p.slug }).toString(),
    })
    expect([plain.status, plain.headers.get('location')]).toEqual([303, `/p/${p.slug}/thanks`])
    const thanks = await (await at(`/p/${p.slug}/thanks`)).text()
    expect(thanks).toContain('<h1>Yours now</h1>')
    expect(thanks).toContain('<em>this</em>')
    expect(thanks).toContain('href="https://larkmoss.example/on"')
    const rows = (await (await p.as('/api/team/pages')).json()) as { id: string; entries: number; point: { name: string } }[]
    expect(rows.find(r => r.id === p.id)).toMatchObject({ entries: 2, point: { name: expect.any(String) } })
    // A made-up page, or one that the form does not stand on, takes nothing along and breaks nothing.
    const other = await form(() => {})
    const strange = await fetch(`${demo().url}/w/points/${other.key}/entries`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ answers: { email: somebody('landing') }, landing: p.slug }),
    })
    expect(await strange.json()).toMatchObject({ next: { kind: 'message' } })
    expect((await send(f.key, { email: somebody('landing') })).status).toBe(201)
    expect(
      (
        await fetch(`${demo().url}/w/points/${f.key}/entries`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ answers: { email: somebody() }, landing: 'nowhere' }),
        })
      ).status,
    ).toBe(201)
  })
  it('comes back with what was typed when something is wrong', async () => {
    const f = await form(() => {})
    const p = await page(d => {
      d.blocks[1] = { key: 'point_1', kind: 'point', point: f.key }
    })
    const answer = await at(`/w/points/${f.key}/entries`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded', accept: 'text/html' },
      body: new URLSearchParams({ email: 'no"body', _landing: p.slug }).toString(),
    })
    expect(answer.status).toBe(422)
    const html = await answer.text()
    expect(html).toContain('value="no&#34;body"')
    expect(html).toContain('class="lp')
  })
  it('goes live only with one live form on it, pictures that are there, and links that lead somewhere', async () => {
    const wrong = async (change: (p: PageDefinition) => void) => (await page(change)).errors?.map(e => e.field)
    expect(await wrong(() => {})).toEqual(['blocks.1.point'])
    expect(
      await wrong(d => {
        d.blocks[1] = { key: 'point_1', kind: 'point', point: 'form_openday' }
      }),
    ).toEqual(['blocks.1.point'])
    const f = await form(() => {})
    const point = { key: 'point_1', kind: 'point' as const, point: f.key }
    expect(
      await wrong(d => {
        d.blocks = [d.blocks[0]!, point, { ...point, key: 'point_2' }]
      }),
    ).toEqual(['blocks.2.point'])
    const picture = { file: { id: '01930000-0000-7000-8000-0000000000ff', name: 'gone.png' }, width: 10, height: 10, alt: '' }
    expect(
      await wrong(d => {
        d.blocks = [d.blocks[0]!, point, { key: 'picture_1', kind: 'picture', picture, caption: '', wide: false }]
      }),
    ).toEqual(['blocks.2.picture'])
    expect(
      await wrong(d => {
        d.blocks = [
          d.blocks[0]!,
          point,
          { key: 'footer_1', kind: 'footer', text: '', links: [{ key: 'l', text: 'x', address: 'javascript:alert(1)' }] },
        ]
      }),
    ).toEqual(['blocks.2.links'])
  })
  it('is refused when it is no page, as strictly as the editor is', async () => {
    for (const [change, field] of [
      [
        (d: Record<string, unknown>) => {
          d.blocks = [{ key: 'x', kind: 'video' }]
        },
        'definition.blocks.0.kind',
      ],
      [
        (d: Record<string, unknown>) => {
          d.more = 1
        },
        'definition.more',
      ],
      [
        (d: Record<string, unknown>) => {
          d.blocks = [{ key: 'x', kind: 'text', text: 'a'.repeat(9000) }]
        },
        'definition.blocks.0.text',
      ],
      [
        (d: Record<string, unknown>) => {
          d.blocks = [
            { key: 'a', kind: 'text', text: '' },
            { key: 'a', kind: 'text', text: '' },
          ]
        },
        'definition.blocks',
      ],
    ] as const)
      expect((await page(change as never, false)).errors?.map(e => e.field)).toContain(field)
  })
  it('carries foreign code in frames that count as sites of their own', async () => {
    const f = await form(() => {})
    const code = (key: string, agreed: boolean) => ({
      key,
      kind: 'snippet' as const,
      title: `Code “${key}”`,
      html: `<b>${key}</b><script>top.location = 'https://elsewhere.example'</script>`,
      height: 90,
      agreed,
    })
    const p = await page(d => {
      d.blocks[1] = { key: 'point_1', kind: 'point', point: f.key }
      d.blocks.push(code('free', false), code('counted', true))
    })
    expect(p.status).toBe(200)
    const answer = await at(`/p/${p.slug}`)
    const html = await answer.text()
    // Nothing of it is in the page itself, and what counts waits for agreement.
    expect(html).not.toContain('elsewhere.example')
    const frames = html.match(/<iframe[^>]*>/g)!
    expect(frames[0]).toContain(` src="/p/${p.slug}/snippets/free" height="90"`)
    expect(frames[1]).toContain(`data-src="/p/${p.slug}/snippets/counted"`)
    expect(frames[1]).not.toMatch(/ src=/)
    for (const frame of frames) expect(/sandbox="([^"]*)"/.exec(frame)![1]).not.toContain('same-origin')
    expect(answer.headers.get('content-security-policy')).toContain("frame-src 'self'")
    const inner = await at(`/p/${p.slug}/snippets/free`)
    expect(inner.headers.get('content-security-policy')).toMatch(/^sandbox allow-scripts(?!.*same-origin)/)
    expect(await inner.text()).toContain('<b>free</b><script>top.location')
    for (const path of ['point_1', 'nothing', '..%2Fthanks', '%00']) expect((await at(`/p/${p.slug}/snippets/${path}`)).status).toBe(404)
    expect((await at(`/p/nowhere/snippets/free`)).status).toBe(404)
    // A page without any asks for no frames.
    const plain = await page(d => {
      d.blocks[1] = { key: 'point_1', kind: 'point', point: f.key }
    })
    expect((await at(`/p/${plain.slug}`)).headers.get('content-security-policy')).not.toContain('frame-src')
  })
  it('can move: the address before leads to the one of today', async () => {
    const f = await form(() => {})
    const p = await page(d => {
      d.blocks[1] = { key: 'point_1', kind: 'point', point: f.key }
    })
    const slug = `${p.slug}-moved`
    expect((await p.as(`/api/team/points/${p.id}/slug`, 'PUT', { slug })).status).toBe(200)
    const old = await at(`/p/${p.slug}?utm_source=x`)
    expect([old.status, old.headers.get('location')]).toEqual([301, `/p/${slug}?utm_source=x`])
    expect((await at(`/p/${slug}`)).status).toBe(200)
    expect((await p.as(`/api/team/points/${f.id}/slug`, 'PUT', { slug: p.slug })).status).toBe(409)
    expect((await p.as(`/api/team/points/${p.id}/slug`, 'PUT', { slug: 'Not A Slug' })).status).toBe(422)
  })
  it('has no form on it any more once that is put away, and says so', async () => {
    const f = await form(() => {})
    const p = await page(d => {
      d.blocks[1] = { key: 'point_1', kind: 'point', point: f.key }
    })
    await f.as(`/api/team/points/${f.id}/archived`, 'PUT', { archived: true })
    expect(await (await at(`/p/${p.slug}`)).text()).toContain('not open at the moment')
  })
})

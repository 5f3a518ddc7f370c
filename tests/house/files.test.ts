import { readFileSync } from 'node:fs'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { form, q } from '../support/forms'
import { ask, demo, member, signedIn, somebody, type Reply } from '../support/house'
import { letIn, reviewed } from '../support/review'

const PNG = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==', 'base64')
const PDF = readFileSync(new URL('../../demo/files/price-guide.pdf', import.meta.url))
const blob = (content: Buffer | string, name: string) => new File([content as never], name)

const withFile = () =>
  form(d => {
    d.questions.push(
      q('plan', 'file', { label: 'A plan', files: { accepts: ['picture', 'document'], megabytes: 1 }, limits: { least: null, most: 2 } }),
    )
  })
async function sendFiles(key: string, entry: object, files: [string, File][], headers: Record<string, string> = {}): Promise<Reply> {
  const body = new FormData()
  for (const [name, file] of files) body.append(name, file)
  body.append('_entry', JSON.stringify(entry))
  const answer = await fetch(`${demo().url}/w/points/${key}/entries`, { method: 'POST', body, headers })
  return { status: answer.status, type: '', body: (await answer.json()) as Reply['body'] }
}
interface Line {
  kind: string
  payload: { answers?: { question: string; files?: { id: string; name: string }[] }[] }
}

describe('files that visitors send', () => {
  it('come with an entry, stand on the lead, and are for members only', async () => {
    const { key } = await withFile()
    const email = somebody('file')
    const name = 'Grundriss “Süd” <b>.pdf'
    const sent = await sendFiles(key, { answers: { email } }, [
      ['plan', blob(PDF, name)],
      ['plan', blob(PNG, 'site.png')],
    ])
    expect(sent.status).toBe(201)
    const {
      leads: [lead],
    } = await ask<{ leads: { id: string }[] }>(`/api/v1/leads?email=${email}`)
    const tamsin = await signedIn('tamsin')
    const { timeline } = (await (await tamsin(`/api/team/leads/${lead!.id}`)).json()) as { timeline: Line[] }
    const files = timeline.find(l => l.kind === 'entry')!.payload.answers!.find(a => a.question === 'A plan')!.files!
    expect(files.map(f => f.name)).toEqual([name, 'site.png'])
    const got = await tamsin(`/api/team/files/${files[0]!.id}`)
    expect(Buffer.from(await got.arrayBuffer()).equals(PDF)).toBe(true)
    expect(got.headers.get('content-disposition')).toContain('attachment')
    expect(got.headers.get('content-disposition')).toContain(encodeURIComponent('Süd'))
    expect((await fetch(`${demo().url}/api/team/files/${files[0]!.id}`)).status).toBe(401)
    expect((await fetch(`${demo().url}/w/files/${files[0]!.id}/x.pdf`)).status).toBe(404)
    expect((await fetch(`${demo().url}/api/v1/files/${files[0]!.id}`)).status).toBe(401)
    expect(
      (await fetch(`${demo().url}/api/v1/files/${files[0]!.id}`, { headers: { authorization: `Bearer ${demo().apiKey}` } })).status,
    ).toBe(200)
  })
  it.each([
    ['lies about its type', [['plan', blob(PNG, 'plan.pdf')]], 'not what its name says'],
    [
      'is a program',
      [['plan', blob(Buffer.from('4d5a90000300000004000000ffff0000b80000000000000040000000', 'hex'), 'plan.pdf')]],
      'cannot be taken',
    ],
    ['is a page', [['plan', blob('<html><script>alert(1)</script></html>', 'plan.pdf')]], 'cannot be taken'],
    ['is text, which is not asked for', [['plan', blob('hello', 'plan.txt')]], 'cannot be taken'],
    ['is too large', [['plan', blob(Buffer.concat([PDF, Buffer.alloc(1_000_000)]), 'plan.pdf')]], 'too large'],
    ['is empty', [['plan', blob('', 'plan.pdf')]], 'is empty'],
    ['is half a picture', [['plan', blob(PNG.subarray(0, 12), 'plan.png')]], ''],
    [
      'is one too many',
      [
        ['plan', blob(PNG, 'a.png')],
        ['plan', blob(PNG, 'b.png')],
        ['plan', blob(PNG, 'c.png')],
      ],
      'At most 2',
    ],
    ['answers no question', [['photo', blob(PNG, 'a.png')]], 'no such question'],
  ] as [string, [string, File][], string][])('are refused, and nothing is stored, when one %s', async (_, files, message) => {
    const { key } = await withFile()
    const email = somebody('lie')
    const { status, body } = await sendFiles(key, { answers: { email } }, files)
    expect(status).toBe(422)
    expect(body.errors![0]!.message).toContain(message)
    expect((await ask<{ leads: unknown[] }>(`/api/v1/leads?email=${email}`)).leads).toEqual([])
  })
  it('cannot be claimed without being sent', async () => {
    const { key } = await withFile()
    const answer = await fetch(`${demo().url}/w/points/${key}/entries`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ answers: { email: somebody(), plan: ['plan.pdf'] } }),
    })
    expect(answer.status).toBe(422)
    expect(JSON.stringify(await answer.json())).toContain('multipart/form-data')
  })
  it('come without any script, and are asked for again when the form comes back', async () => {
    const f = await withFile()
    const page = await (await fetch(`${demo().url}/p/${f.slug}`)).text()
    expect(page).toContain('enctype="multipart/form-data"')
    expect(page).toMatch(/type="file"[^>]*accept="\.jpg,[^"]*\.pdf/)
    const post = (email: string) => {
      const body = new FormData()
      body.append('email', email)
      body.append('plan', blob(PNG, 'a.png'))
      return fetch(`${demo().url}/w/points/${f.key}/entries`, {
        method: 'POST',
        body,
        headers: { accept: 'text/html' },
        redirect: 'manual',
      })
    }
    const wrong = await post('nobody')
    expect(wrong.status).toBe(422)
    expect(await wrong.text()).toContain('Choose the file once more')
    expect((await post(somebody('plain'))).status).toBe(303)
  })
  it('count for what they are: the same key with another file is another entry', async () => {
    const { key } = await withFile()
    const email = somebody('again')
    const idempotency = { 'idempotency-key': `k${Math.random()}` }
    const first = await sendFiles(key, { answers: { email } }, [['plan', blob(PNG, 'a.png')]], idempotency)
    const same = await sendFiles(key, { answers: { email } }, [['plan', blob(PNG, 'a.png')]], idempotency)
    expect(same.body.entry).toBe(first.body.entry)
    expect((await sendFiles(key, { answers: { email } }, [['plan', blob(PDF, 'a.pdf')]], idempotency)).status).toBe(422)
  })
  it('stay with an entry that is set aside, and come along when it is let in', async () => {
    const { key } = await form(d => {
      d.questions.push(q('plan', 'file', { label: 'A plan' }))
      d.people = { ...d.people, unknown: 'hold' }
    })
    const email = somebody('held')
    expect((await sendFiles(key, { answers: { email } }, [['plan', blob(PNG, 'a.png')]])).status).toBe(201)
    const orla = await signedIn('orla')
    const review = (await reviewed(orla)).find(a => a.email === email)!
    await letIn(orla, review.id)
    const {
      leads: [{ id: lead } = { id: '' }],
    } = await ask<{ leads: { id: string }[] }>(`/api/v1/leads?email=${email}`)
    const { timeline } = (await (await orla(`/api/team/leads/${lead}`)).json()) as { timeline: Line[] }
    const file = timeline.find(l => l.kind === 'entry')!.payload.answers!.find(a => a.question === 'A plan')!.files![0]!
    expect(Buffer.from(await (await orla(`/api/team/files/${file.id}`)).arrayBuffer()).equals(PNG)).toBe(true)
  })
})

it('a test entry of a form that asks for a file goes the whole way, with a made-up one, and leaves nothing', async () => {
  const f = await form(d => {
    d.questions.push(q('plan', 'file', { label: 'A plan', required: true, property: null }))
  })
  const answer = await f.as(`/api/team/points/${f.id}/rehearsal`, 'POST', { answers: { email: somebody('try') } })
  expect(await answer.json()).toMatchObject({
    review: null,
    mail: { lines: expect.arrayContaining([{ label: 'A plan', text: 'made-up-1.pdf' }]) },
  })
})
it('what was put away is listed apart, and can be brought back', async () => {
  const f = await form(() => {})
  const listed = async (away: boolean) =>
    ((await (await f.as(`/api/team/points${away ? '?away=true' : ''}`)).json()) as { id: string }[]).some(p => p.id === f.id)
  await f.as(`/api/team/points/${f.id}/archived`, 'PUT', { archived: true })
  expect([await listed(false), await listed(true)]).toEqual([false, true])
  await f.as(`/api/team/points/${f.id}/archived`, 'PUT', { archived: false })
  expect([await listed(false), await listed(true)]).toEqual([true, false])
})

describe('pictures and downloads of ours', () => {
  const upload = async (who: string, file: File, query = '') => {
    const { email, password } = demo().members.find(m => m.email.startsWith(who))!
    const session = await fetch(`${demo().url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email, password }),
    })
    const body = new FormData()
    body.append('file', file)
    return fetch(`${demo().url}/api/team/files${query}`, {
      method: 'POST',
      body,
      headers: { cookie: session.headers.getSetCookie()[0]!.split(';')[0]! },
    })
  }
  it('are there for everybody once a marketer has put them there, the same one once', async () => {
    const first = (await (await upload('tamsin', blob(PNG, 'dot.png'), '?kind=picture')).json()) as { id: string; width: number }
    expect(first.width).toBe(1)
    expect(((await (await upload('tamsin', blob(PNG, 'dot.png'))).json()) as { id: string }).id).toBe(first.id)
    const got = await fetch(`${demo().url}/w/files/${first.id}/dot.png`)
    expect(got.headers.get('content-type')).toBe('image/png')
    expect(got.headers.get('content-security-policy')).toContain('sandbox')
  })
  it('are checked by their content, and are not for everybody to put there', async () => {
    expect((await upload('jonah', blob(PNG, 'dot.png'))).status).toBe(403)
    expect((await upload('tamsin', blob(PDF, 'guide.pdf'), '?kind=picture')).status).toBe(422)
    expect((await upload('tamsin', blob('<svg xmlns="http://www.w3.org/2000/svg"><script/></svg>', 'x.svg'))).status).toBe(422)
  })
})

describe('pictures of ours', () => {
  const upload = async (content: Buffer, name = `picture-${Date.now()}.jpg`) => {
    const body = new FormData()
    body.append('file', blob(content, name))
    const tamsin = await signedInToUpload()
    return tamsin(body)
  }
  const signedInToUpload = async () => {
    const { email, password } = member('tamsin')
    const { headers } = await fetch(`${demo().url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email, password }),
    })
    const cookie = headers
      .getSetCookie()
      .map(c => c.split(';')[0])
      .join('; ')
    return (body: FormData) =>
      fetch(`${demo().url}/api/team/files?kind=picture`, { method: 'POST', headers: { cookie, origin: demo().url }, body })
  }
  /** Noise, which nothing makes small. */
  const noise = (width: number, height: number) =>
    sharp({ create: { width, height, channels: 3, background: '#888', noise: { type: 'gaussian', mean: 128, sigma: 60 } } })
  const get = async (id: string, query = '') => {
    const answer = await fetch(`${demo().url}/w/files/${id}/x.jpg${query}`)
    const content = Buffer.from(await answer.arrayBuffer())
    return {
      content,
      type: answer.headers.get('content-type'),
      cache: answer.headers.get('cache-control'),
      ...(await sharp(content)
        .metadata()
        .then(({ width, height, orientation, exif }) => ({ width, height, orientation, exif }))),
    }
  }

  it('come in the sizes that pages need, upright and without what the camera wrote into them, and are kept for long', async () => {
    // 1000 by 600 as it was taken, to be turned by a quarter.
    const content = await noise(1000, 600)
      .withMetadata({ orientation: 6 })
      .withExif({ IFD0: { Copyright: 'Nobody at all' } })
      .jpeg({ quality: 95 })
      .toBuffer()
    const answer = await upload(content)
    expect(answer.status).toBe(201)
    const kept = (await answer.json()) as { id: string; width: number; height: number }
    const small = await get(kept.id, '?w=320')
    expect(small).toMatchObject({ type: 'image/webp', width: 320, exif: undefined })
    expect(small.cache).toBe('public, max-age=31536000, immutable')
    const whole = await get(kept.id)
    expect(whole).toMatchObject({ type: 'image/jpeg', width: 1000, height: 600 })
    expect(whole.content.equals(content)).toBe(true)
    for (const odd of ['?w=321', '?w=-1', '?w=1e99', '?w=x', '?w=320&w=480', '?w=9007199254740993'])
      expect((await get(kept.id, odd)).type).toBe('image/jpeg')
    expect((await fetch(`${demo().url}/w/files/${kept.id}/x.jpg?w=320`)).headers.get('content-disposition')).toMatch(/\.webp$/)
  })
  it('say how large they stand once they were turned', async () => {
    const turned = (await (await upload(await noise(1000, 600).withMetadata({ orientation: 6 }).jpeg().toBuffer())).json()) as {
      id: string
      width: number
      height: number
    }
    expect([turned.width, turned.height]).toEqual([600, 1000])
    expect(await get(turned.id, '?w=600')).toMatchObject({ type: 'image/webp', width: 600, height: 1000 })
    expect((await get(turned.id, '?w=720')).type).toBe('image/jpeg')
  })
  it('that move go on moving, and what is small already does not grow', async () => {
    const frames = await Promise.all(
      ['#f00', '#0f0'].map(background =>
        sharp({ create: { width: 700, height: 10, channels: 3, background } })
          .png()
          .toBuffer(),
      ),
    )
    const moving = await sharp(frames, { join: { animated: true } })
      .gif()
      .toBuffer()
    const kept = (await (await upload(moving, `moving-${Date.now()}.gif`)).json()) as { id: string }
    expect((await get(kept.id, '?w=480')).type).toBe('image/gif')
    const tiny = (await (await upload(PNG, `tiny-${Date.now()}.png`)).json()) as { id: string }
    expect((await get(tiny.id, '?w=1')).type).toMatch(/png|webp/)
    expect((await get(tiny.id, '?w=320')).type).toBe('image/png')
  })
  it.each([
    ['broke off', async () => (await noise(800, 800).png().toBuffer()).subarray(0, 40_000), 'no whole picture'],
    [
      'would fill the memory of everybody else',
      () =>
        sharp({ create: { width: 8000, height: 8000, channels: 3, background: '#fff' } })
          .png()
          .toBuffer(),
      'million pixels',
    ],
  ] as [string, () => Promise<Buffer>, string][])('are refused when one %s', async (_, make, message) => {
    const answer = await upload(await make(), `broken-${Date.now()}.png`)
    expect([answer.status, ((await answer.json()) as Reply['body']).errors![0]!.message]).toEqual([422, expect.stringContaining(message)])
  })
})

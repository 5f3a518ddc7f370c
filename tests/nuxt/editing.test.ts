import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick } from 'vue'
import { ApiError } from '../../app/utils/api'
import type { useEditing as UseEditing } from '../../app/composables/editing'
import { asInNuxt } from './as-in-nuxt'

interface Text {
  title: string
  intro: string
  questions: { key: string; label: string }[]
}
type Editing = ReturnType<typeof UseEditing<Text>>

/** The server's copy of one point, as `PUT` keeps it: with the revision it was read with, or not at all. */
const server = {
  revision: 1,
  name: 'Visit',
  definition: {} as Text,
  saved: 0,
  fail: null as ApiError | null,
  heard: new Set<() => void>(),
  slow: 0,
}
const copied = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
async function api(
  _path: string,
  options: { method?: string; body?: { revision: number; name: string; definition: Text } } = {},
): Promise<unknown> {
  const body = copied(options.body ?? null)
  if (server.slow) await new Promise(done => setTimeout(done, server.slow))
  if (server.fail) throw server.fail
  if (options.method === 'PUT') {
    if (body!.revision !== server.revision) throw new ApiError('Changed meanwhile.', 409, [])
    Object.assign(server, { revision: server.revision + 1, name: body!.name, definition: body!.definition, saved: server.saved + 1 })
    for (const tell of server.heard) tell()
    return { revision: server.revision }
  }
  return copied({ id: 'p', name: server.name, revision: server.revision, workingCopy: server.definition })
}
const hear = (_about: unknown, tell: () => void) => {
  server.heard.add(tell)
  return () => server.heard.delete(tell)
}

let useEditing: typeof UseEditing
beforeEach(async () => {
  vi.useFakeTimers()
  asInNuxt({ api, useLive: () => ({ hear }) })
  useEditing = (await import('../../app/composables/editing')).useEditing
  Object.assign(server, {
    revision: 1,
    name: 'Visit',
    saved: 0,
    fail: null,
    slow: 0,
    definition: {
      title: 'Ask us',
      intro: '',
      questions: [
        { key: 'email', label: 'E-mail' },
        { key: 'size', label: 'Size' },
      ],
    },
  })
  server.heard.clear()
  return () => {
    vi.useRealTimers()
  }
})

async function opened(): Promise<{ e: Editing; text: () => Text; close: () => void }> {
  const scope = effectScope()
  const e = scope.run(() => useEditing<Text>('p'))!
  await vi.advanceTimersByTimeAsync(server.slow + 1)
  return { e, text: () => e.definition.value!, close: () => scope.stop() }
}
const rest = () => vi.advanceTimersByTimeAsync(5_000)

describe('a working copy in hand', () => {
  it('is saved a moment after it was changed, once for what belongs together', async () => {
    const { e, text } = await opened()
    for (const title of ['A', 'As', 'Ask']) {
      text().title = title
      await vi.advanceTimersByTimeAsync(100)
    }
    expect([e.state.value, e.unsaved.value, server.saved]).toEqual(['changed', true, 0])
    await rest()
    expect([e.state.value, server.saved, server.definition.title]).toEqual(['saved', 1, 'Ask'])
  })
  it('keeps what is typed while it is being saved, and saves that too', async () => {
    const { e, text } = await opened()
    server.slow = 400
    text().title = 'First'
    await vi.advanceTimersByTimeAsync(700)
    expect(e.state.value).toBe('saving')
    text().intro = 'Second'
    await rest()
    expect([server.definition.title, server.definition.intro, e.state.value]).toEqual(['First', 'Second', 'saved'])
  })
  it('is brought together with what a colleague changed, and says where both changed the same', async () => {
    const [mine, theirs] = [await opened(), await opened()]
    mine.text().title = 'Mine'
    theirs.text().questions[1]!.label = 'How large'
    await rest()
    expect(mine.text()).toEqual(server.definition)
    expect(server.definition).toMatchObject({ title: 'Mine', questions: [{}, { label: 'How large' }] })
    expect([mine.e.conflict.value, theirs.e.conflict.value]).toEqual(['', ''])
    mine.text().intro = 'We come'
    theirs.text().intro = 'They come'
    await rest()
    expect([mine.e.conflict.value, theirs.e.conflict.value].filter(Boolean)).toEqual([
      'Somebody else changed the same thing at the same moment (intro). What you wrote stands.',
    ])
    expect(mine.text()).toEqual(theirs.text())
  })
  it('takes back my steps and leaves theirs', async () => {
    const [mine, theirs] = [await opened(), await opened()]
    mine.text().title = 'One'
    await rest()
    mine.text().title = 'Two'
    await rest()
    theirs.text().intro = 'Theirs'
    await rest()
    mine.e.undo()
    await rest()
    expect(server.definition).toMatchObject({ title: 'One', intro: 'Theirs' })
    mine.e.undo()
    await rest()
    expect([server.definition.title, server.definition.intro, mine.e.mayUndo.value]).toEqual(['Ask us', 'Theirs', false])
    mine.e.redo()
    mine.e.redo()
    await rest()
    expect([server.definition.title, server.definition.intro, mine.e.mayRedo.value]).toEqual(['Two', 'Theirs', false])
  })
  it('takes back typing as one step, and two places as two', async () => {
    const { e, text } = await opened()
    for (const title of ['G', 'Gl', 'Glass']) {
      text().title = title
      await vi.advanceTimersByTimeAsync(50)
    }
    text().intro = 'x'
    await nextTick()
    e.undo()
    expect([text().title, text().intro]).toEqual(['Glass', ''])
    e.undo()
    expect([text().title, e.mayUndo.value]).toEqual(['Ask us', false])
  })
  it('counts what I do, and not what others do', async () => {
    const [mine, theirs] = [await opened(), await opened()]
    theirs.text().intro = 'Theirs'
    await rest()
    expect([mine.e.steps.value, theirs.e.steps.value]).toEqual([0, 1])
    mine.e.replace({ ...mine.text(), title: 'Mine' })
    await nextTick()
    mine.e.undo()
    expect([mine.e.steps.value, mine.text()]).toEqual([2, { ...server.definition, title: 'Ask us' }])
  })
  it('loses nothing when it cannot be saved: it is tried again when nobody answers, and says why when it is refused', async () => {
    const { e, text } = await opened()
    server.fail = new ApiError('Cavlin cannot be reached.', 0, [])
    text().title = 'Kept'
    await vi.advanceTimersByTimeAsync(1_000)
    expect([e.state.value, e.problem.value, text().title]).toEqual(['failed', 'Cavlin cannot be reached.', 'Kept'])
    server.fail = null
    await rest()
    expect([e.state.value, e.problem.value, server.definition.title]).toEqual(['saved', '', 'Kept'])
    server.fail = new ApiError('The title is too long.', 422, [])
    text().title = 'Too long'
    await rest()
    expect([e.state.value, e.problem.value, server.definition.title, text().title]).toEqual([
      'failed',
      'The title is too long.',
      'Kept',
      'Too long',
    ])
  })
  it('is saved when it is left with something unsaved, and deaf afterwards', async () => {
    const { text, close } = await opened()
    text().title = 'Left'
    await nextTick()
    close()
    await rest()
    expect([server.definition.title, server.heard.size]).toEqual(['Left', 0])
  })
  it('does not go live while it cannot be saved', async () => {
    const { e, text } = await opened()
    server.fail = new ApiError('The title is too long.', 422, [])
    text().title = 'Too long'
    await nextTick()
    const before = server.revision
    await e.publish()
    expect([server.revision, e.state.value]).toEqual([before, 'failed'])
  })
})

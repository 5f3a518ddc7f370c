import { describe, expect, it } from 'vitest'
import type { PageDefinition } from '#core/pages/definition'
import type { PointDefinition } from '#core/points/definition'
import { demo, readDatabase, signedIn } from '../support/house'
import { liveQuiz } from '../support/live-quiz'

const as = await signedIn('tamsin')
let made = 0
const bring = async (kind: string, file: unknown) => {
  const answer = await as('/api/team/points', 'POST', { kind, name: `From a file ${process.pid} ${++made}`, file })
  return {
    status: answer.status,
    ...((await answer.json()) as { id?: string; detail?: string; errors?: { field: string; message: string }[] }),
  }
}
const copyOf = async (id: string) =>
  ((await (await as(`/api/team/points/${id}`)).json()) as { workingCopy: PointDefinition | PageDefinition }).workingCopy

describe('a form, quiz or page as a file', () => {
  it('comes back as it was, whatever it is', async () => {
    const rows = (await readDatabase(
      sql => sql`select id, kind from point where key in ('form_visit', 'quiz_suits', 'page_light')`,
    )) as unknown as { id: string; kind: string }[]
    expect(rows).toHaveLength(3)
    for (const { id, kind } of rows) {
      const answer = await as(`/api/team/points/${id}/file`)
      expect(answer.headers.get('content-disposition')).toMatch(/^attachment; filename="[a-z0-9-]+\.json"$/)
      const file: unknown = await answer.json()
      const brought = await bring(kind, file)
      expect([kind, brought.status, brought.detail]).toEqual([kind, 201, undefined])
      expect(await copyOf(brought.id!)).toEqual(await copyOf(id))
    }
  })
  it('says what is wrong with a file, and makes nothing of it', async () => {
    const q = await liveQuiz('sorting')
    const file = (await (await q.as(`/api/team/points/${q.id}/file`)).json()) as { kind: string; name: string; definition: PointDefinition }
    const before = await readDatabase(sql => sql`select count(*)::int as n from point where name like ${`From a file ${process.pid} %`}`)
    const cases: [unknown, string, string][] = [
      [file, 'form', 'of a quiz, not of a form'],
      [{ ...file, kind: 'form' }, 'form', 'what is in it is none'],
      [{ ...file, kind: 'car' }, 'quiz', 'no form, quiz, chat or page'],
      [{}, 'quiz', 'cannot be brought in'],
      [{ ...file, definition: { ...file.definition, questions: [{ key: 'x' }] } }, 'quiz', 'cannot be brought in'],
      [{ ...file, more: 1 }, 'quiz', 'cannot be brought in'],
    ]
    for (const [content, kind, words] of cases) {
      const { status, detail } = await bring(kind, content)
      expect([status, detail]).toEqual([422, expect.stringContaining(words)])
    }
    expect(await readDatabase(sql => sql`select count(*)::int as n from point where name like ${`From a file ${process.pid} %`}`)).toEqual(
      before,
    )
    const huge = await as('/api/team/points', 'POST', { kind: 'quiz', name: 'Huge', file: { ...file, name: 'x'.repeat(300_000) } })
    expect(huge.status).toBe(413)
    expect((await as('/api/team/points/00000000-0000-0000-0000-000000000000/file')).status).toBe(404)
    expect((await fetch(`${demo().url}/api/team/points/${q.id}/file`)).status).toBe(401)
  })
})

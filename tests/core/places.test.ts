import { expect, it } from 'vitest'
import { places } from '#core/points/places'

const page = (path: string, visitors: number) => ({ page: `https://firm.example${path}`, title: null, visitors })
const point = (path: string, seen: number, finished: number, counted = finished) => ({
  page: `https://firm.example${path}`,
  pointId: path,
  name: path,
  seen,
  started: 0,
  finished,
  counted,
})

it('lists pages by visitors, with their points, and marks those where many come and nothing asks', () => {
  const found = places(
    [page('/a', 100), page('/b', 80), page('/c', 30), page('/d', 5)],
    [point('/a', 90, 15, 9), point('/c', 20, 25), point('/mail', 0, 3)],
  )
  expect(found.map(p => [p.path, p.points.length, p.missed])).toEqual([
    ['/a', 1, false],
    ['/b', 0, true],
    ['/c', 1, false],
    ['/d', 0, false],
    ['/mail', 1, false],
  ])
  expect(found[0]!.points[0]!.rate).toMatchObject({ rate: 0.1, tooFew: false })
  // More finished than were seen: something does not count there, and a rate would be made up.
  expect(found[2]!.points[0]!.rate).toBeNull()
  expect(found[4]!.points[0]!.rate).toBeNull()
})
it('marks nothing where hardly anybody comes', () => {
  expect(places([page('/a', 19), page('/b', 3)], []).some(p => p.missed)).toBe(false)
})

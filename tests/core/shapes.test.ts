import { Equals, IsInt, IsString, Min } from 'class-validator'
import { describe, expect, it } from 'vitest'
import { ABOUT_ANSWERS } from '#core/conditions/askable'
import type { Condition } from '#core/conditions/condition'
import { complete, ConditionAbout, Default, ListOfKinds, OneOf, read } from '#core/shapes'
import { Nested } from '#core/validate'

class Circle {
  @Equals('circle') kind!: 'circle'
  @IsInt() @Min(1) radius!: number
}
class Square {
  @Equals('square') kind!: 'square'
  @IsInt() side!: number
  @Default('plain') @IsString() fill!: string
}
class Frame {
  @IsString() title!: string
  static tidy = (f: Frame): Frame => ({ title: f.title.trim() })
}
class Picture {
  static upgrade = (plain: unknown) => {
    const { heading, ...rest } = plain as { heading?: string }
    return heading === undefined ? rest : { ...rest, frame: { title: heading } }
  }
  @Nested(() => Frame) frame!: Frame
  @Default([]) @ListOfKinds({ circle: Circle, square: Square }) shapes!: (Circle | Square)[]
  @Default(null) @OneOf({ circle: Circle, square: Square }) sign!: Circle | Square | null
  @ConditionAbout(ABOUT_ANSWERS) when!: Condition | null
}
const good = {
  frame: { title: ' T ' },
  shapes: [
    { kind: 'circle', radius: 2 },
    { kind: 'square', side: 1 },
  ],
}
const fields = (plain: object) => read(Picture, plain).flaws.map(f => f.field)

describe('what is stated once', () => {
  it('is read with what was left out, tidied, plain, in the order of its fields', () => {
    const { value } = read(Picture, good)
    expect(JSON.stringify(value)).toBe(
      '{"frame":{"title":"T"},"shapes":[{"kind":"circle","radius":2},{"kind":"square","side":1,"fill":"plain"}],"sign":null,"when":null}',
    )
    expect(Object.getPrototypeOf(value)).toBe(Object.prototype)
  })
  it('shares no default between two', () => {
    const [a, b] = [read(Picture, { frame: { title: '' } }).value!, read(Picture, { frame: { title: '' } }).value!]
    a.shapes.push({ kind: 'circle', radius: 1 })
    expect(b.shapes).toEqual([])
  })
  it('names the place of what is wrong, however deep', () => {
    expect(
      fields({
        ...good,
        shapes: [
          { kind: 'circle', radius: 0 },
          { kind: 'square', side: 'x' },
        ],
      }),
    ).toEqual(['shapes.0.radius', 'shapes.1.side'])
    expect(fields({ ...good, shapes: [{ kind: 'circle', radius: 1, side: 2 }] })).toEqual(['shapes.0.side'])
    expect([
      fields({ ...good, sign: { kind: 'star', size: 9 } }),
      fields({ ...good, sign: 'star' }),
      fields({ ...good, shapes: [null] }),
      fields({ ...good, shapes: 'x' }),
    ]).toEqual([['sign.kind'], ['sign'], ['shapes'], ['shapes']])
    expect(fields({ ...good, when: { all: [{ attribute: 'answer.x', is: 'sideways' }] } })[0]).toMatch(/^when/)
    expect(fields({ ...good, when: { attribute: 'label', is: 'filled' } })[0]).toMatch(/^when/)
  })
  it('takes a kind that every object has for none', () => expect(fields({ ...good, sign: { kind: 'constructor' } })).toEqual(['sign.kind']))
  it('is upgraded before it is read, checked or not', () => {
    expect(read(Picture, { heading: 'Old' }).value?.frame).toEqual({ title: 'Old' })
    expect(complete(Picture, { heading: 'Old' }).frame).toEqual({ title: 'Old' })
  })
})

import { ValidateBy } from 'class-validator'

const MOST_TEXT = 20_000
const MOST_PARTS = 60
const isText = (v: unknown): v is string => typeof v === 'string' && v.length <= MOST_TEXT

/** The field holds a property's value as it is kept: a text, or a list of texts. */
export const IsPropertyValue = () =>
  ValidateBy({
    name: 'isPropertyValue',
    validator: {
      validate: (v: unknown) => isText(v) || (Array.isArray(v) && v.length <= MOST_PARTS && v.every(isText)),
      defaultMessage: () => `A value is a text, or a list of at most ${MOST_PARTS} texts`,
    },
  })

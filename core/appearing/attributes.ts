import { attributeOf } from '#core/leads/attributes/registry'
import type { Choice } from '#core/properties/kinds'

/** Something that display rules may ask about who looks at a page, beside all that conditions may ask about a lead. */
export interface VisitorAttribute {
  /** As conditions name it; of a family what stands before its own name (`page.query.`). */
  name: string
  isFamily?: boolean
  /** Who judges it. What only the server knows of people is never sent to a browser; it says which tests hold. */
  judged: 'browser' | 'server'
  /** What it is about: the page, or who looks at it. */
  about: 'page' | 'visitor'
  choices?: Choice[]
  /** Within a sentence: “the path”. */
  words: string
  /** In the editor. */
  label: string
}

const YES_NO = [
  { value: 'yes', text: 'Yes' },
  { value: 'no', text: 'No' },
]
const DEVICES = [
  { value: 'computer', text: 'Computer' },
  { value: 'phone', text: 'Phone' },
  { value: 'tablet', text: 'Tablet' },
]

export const VISITOR_ATTRIBUTES: VisitorAttribute[] = [
  { name: 'page.path', judged: 'browser', about: 'page', words: 'the path', label: 'Path of the page' },
  { name: 'page.title', judged: 'browser', about: 'page', words: 'the title', label: 'Title of the page' },
  { name: 'page.address', judged: 'browser', about: 'page', words: 'the address', label: 'Whole address' },
  { name: 'page.query.', isFamily: true, judged: 'browser', about: 'page', words: 'the parameter', label: 'Parameter' },
  { name: 'visitor.returning', judged: 'browser', about: 'visitor', choices: YES_NO, words: 'was here before', label: 'Was here before' },
  {
    name: 'visitor.known',
    judged: 'server',
    about: 'visitor',
    choices: YES_NO,
    words: 'known to us by name',
    label: 'Known to us by name',
  },
  { name: 'answered', judged: 'server', about: 'visitor', choices: YES_NO, words: 'answered this already', label: 'Answered this already' },
  { name: 'visit.source', judged: 'browser', about: 'visitor', words: 'came from', label: 'Came from' },
  { name: 'visit.device', judged: 'browser', about: 'visitor', choices: DEVICES, words: 'the device', label: 'Device' },
  { name: 'visit.language', judged: 'browser', about: 'visitor', words: 'the language', label: 'Language (two letters)' },
]

const PARAMETER = /^[\p{L}\p{N}_. -]{1,60}$/u

/** The attribute that a display rule names; undefined when it is none of these. */
export const visitorAttribute = (name: string): VisitorAttribute | undefined =>
  VISITOR_ATTRIBUTES.find(a => (a.isFamily ? name.startsWith(a.name) && isParameter(name.slice(a.name.length)) : a.name === name))
const isParameter = (own: string) => PARAMETER.test(own) && !(own in Object.prototype)

/** Whether only the server can judge what is asked: everything about people, and nothing else. */
export const isServers = (name: string): boolean => visitorAttribute(name)?.judged === 'server' || attributeOf(name) !== undefined

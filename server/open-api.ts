import { LANGUAGE_KEYS } from '#core/languages/language'
import { ACTIVITY_KINDS, COMPARISONS } from '#core/conditions/condition'
import { PageDefinition } from '#core/pages/schema'
import { QUESTION_KINDS } from '#core/points/limits'
import { PointDefinition } from '#core/points/shapes/definition'
import { RoutingPlan } from '#core/routing/plan'
import { Scorecard } from '#core/scoring/scorecard'
import { Entry } from '#server/capture/receive'
import { schemasOf } from '#server/schema-of'
import { AddedEvent } from '#server/trail/added-event'

const SCALAR = { type: ['string', 'number', 'boolean'] }
const LIMIT = { type: ['number', 'string', 'null'] }

/** The description of the open API, OpenAPI 3.1. A test holds it against what the routes answer. */
export function openApi(url: string) {
  const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` })
  const json = (schema: object) => ({ content: { 'application/json': { schema } } })
  const refused = (description: string) => ({ description, content: { 'application/problem+json': { schema: ref('Problem') } } })
  const query = (name: string, description: string, schema: object = { type: 'string' }) => ({
    name,
    in: 'query',
    description,
    required: false,
    schema,
  })
  const several = { type: 'array', items: { type: 'string' } }
  const nullable = (type: string, more: object = {}) => ({ type: [type, 'null'], ...more })
  const object = (properties: Record<string, object>, optional: string[] = []) => ({
    type: 'object',
    required: Object.keys(properties).filter(p => !optional.includes(p)),
    properties,
    additionalProperties: false,
  })
  const keyInPath = { name: 'key', in: 'path', required: true, schema: { type: 'string' }, description: 'The key of the form.' }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Cavlin',
      version: '1',
      description: 'Leads with their scores, owners and follow-up; and the public addresses that take entries in.',
    },
    servers: [{ url }],
    security: [{ key: [] }],
    paths: {
      '/api/v1/leads': {
        get: {
          operationId: 'listLeads',
          summary: 'Leads, newest first',
          parameters: [
            query('email', 'Exactly this person, in any writing of the address.'),
            query('search', 'Words that all appear in name, company or address.'),
            query('label', 'One of these labels, or `none`.', several),
            query('owner', 'One of these members’ ids, or `none`.', several),
            query('status', 'One of these statuses.', several),
            query('tag', 'With this tag.'),
            query('list', 'On one of these lists, by their ids.', several),
            query('segment', 'In this segment, by its id.'),
            query('submitted', '`no`: only people who typed something and have not sent it; `yes`: only the others.', {
              enum: ['yes', 'no'],
            }),
            query('waiting', 'Only people who wait for an answer.', { const: 'true' }),
            query('limit', 'Leads a page.', { type: 'integer', minimum: 1, maximum: 200, default: 50 }),
            query('cursor', 'The `next` of the page before.'),
          ],
          responses: {
            200: {
              description: 'A page of leads.',
              ...json(
                object({
                  leads: { type: 'array', items: ref('Lead') },
                  next: nullable('string', { description: 'The cursor of the next page; null on the last.' }),
                }),
              ),
            },
            401: refused('No working key.'),
            403: refused('The key may not do this.'),
            422: refused('A filter cannot be read.'),
          },
        },
      },
      '/api/v1/leads/{id}': {
        get: {
          operationId: 'getLead',
          summary: 'One lead',
          parameters: [{ name: 'id', in: 'path', required: true, schema: { type: 'string', format: 'uuid' } }],
          responses: {
            200: { description: 'The lead.', ...json(ref('Lead')) },
            308: { description: 'It was found to be the same person as another lead, which is at `Location`.' },
            401: refused('No working key.'),
            403: refused('The key may not do this.'),
            404: refused('No lead with this id.'),
          },
        },
      },
      '/api/v1/events': {
        post: {
          operationId: 'addEvent',
          summary: 'Something that a lead or a visitor did',
          parameters: [
            {
              name: 'Idempotency-Key',
              in: 'header',
              required: false,
              schema: { type: 'string', maxLength: 200 },
              description: 'The same key again counts once.',
            },
          ],
          requestBody: { required: true, ...json(ref('AddedEvent')) },
          responses: {
            204: { description: 'It is on disk.' },
            401: refused('No working key.'),
            403: refused('The key may not do this.'),
            404: refused('No lead with this address.'),
            422: refused('A field is wrong.'),
          },
        },
      },
      '/api/v1/files/{id}': {
        get: {
          operationId: 'getFile',
          summary: 'A file that came with an entry',
          parameters: [{ name: 'id', in: 'path', required: true, schema: { type: 'string', format: 'uuid' } }],
          responses: {
            200: { description: 'Its content.', content: { '*/*': {} } },
            401: refused('No working key.'),
            403: refused('The key may not do this.'),
            404: refused('No file with this id.'),
          },
        },
      },
      '/api/v1/scorecards/learn': {
        post: {
          operationId: 'learnScorecard',
          summary: 'Learn a scorecard from rows whose outcome is known, or from the leads of a segment',
          parameters: [
            query('outcome', 'Of a table: the column that holds the outcome.'),
            query('maxRules', 'Of a table.', { type: 'integer' }),
            query('seed', 'Of a table.', { type: 'integer' }),
          ],
          requestBody: {
            required: true,
            content: {
              'application/json': {
                schema: {
                  oneOf: [
                    object(
                      {
                        rows: { type: 'array', items: { type: 'object' } },
                        outcome: { type: 'array', items: { enum: [0, 1, false, true] } },
                        maxRules: { type: 'integer', minimum: 1, maximum: 50, default: 20 },
                        seed: { type: 'integer', minimum: 0, default: 1 },
                      },
                      ['maxRules', 'seed'],
                    ),
                    object(
                      {
                        segment: { type: 'string', format: 'uuid' },
                        goal: { type: 'string', default: 'won' },
                        days: { type: 'integer', default: 7 },
                        span: { type: 'integer', default: 730 },
                        sensitive: { type: 'boolean', default: false },
                        maxRules: { type: 'integer' },
                        seed: { type: 'integer' },
                      },
                      ['goal', 'days', 'span', 'sensitive', 'maxRules', 'seed'],
                    ),
                  ],
                },
              },
              'text/csv': { schema: { type: 'string' } },
            },
          },
          responses: {
            202: {
              description: 'It is being learned; the job says how far it has come.',
              headers: { Location: { schema: { type: 'string' } } },
              ...json(object({ id: { type: 'string', format: 'uuid' } })),
            },
            401: refused('No working key.'),
            403: refused('The key may not do this.'),
            413: refused('Too much at once.'),
            415: refused('Neither JSON nor a table.'),
            422: refused('It cannot be learned from; says why.'),
            429: refused('Several are being learned already.'),
          },
        },
      },
      '/api/v1/scorecards/score': {
        post: {
          operationId: 'scoreRows',
          summary: 'What rules give each row',
          requestBody: {
            required: true,
            ...json(
              object({
                rules: { type: 'array', items: object({ when: ref('Condition'), points: { type: 'number' } }) },
                rows: { type: 'array', items: { type: 'object' } },
              }),
            ),
          },
          responses: {
            200: {
              description: 'A score for each row, in their order.',
              ...json(object({ scores: { type: 'array', items: { type: 'number' } } })),
            },
            401: refused('No working key.'),
            403: refused('The key may not do this.'),
            413: refused('Too much at once.'),
            415: refused('No JSON.'),
            422: refused('A rule or row cannot be read.'),
          },
        },
      },
      '/api/v1/mails': {
        post: {
          operationId: 'addMail',
          summary: 'Bring in a mail that answers one of ours',
          description:
            'As it came, headers and all (RFC 5322). It is told apart by the address of the house that it went to, stands with its lead, and its owner hears of it. The same mail twice is one.',
          requestBody: { required: true, content: { 'message/rfc822': { schema: { type: 'string' } } } },
          responses: {
            204: { description: 'It stands with its lead.' },
            401: refused('No working key.'),
            403: refused('The key may not do this.'),
            404: refused('It answers no mail of ours.'),
            408: refused('It came too slowly.'),
            413: refused('It is too large.'),
            415: refused('No mail.'),
          },
        },
      },
      '/api/v1/jobs/{id}': {
        get: {
          operationId: 'getJob',
          summary: 'How far a job has come, and what it came to',
          parameters: [{ name: 'id', in: 'path', required: true, schema: { type: 'string', format: 'uuid' } }],
          responses: {
            200: { description: 'The job.', ...json(ref('Job')) },
            401: refused('No working key.'),
            403: refused('The key may not do this.'),
            404: refused('No job with this id; a week after its end it is forgotten.'),
          },
        },
      },
      '/w/points/{key}': {
        get: {
          operationId: 'getPoint',
          summary: 'What a live form asks',
          security: [],
          parameters: [keyInPath],
          responses: { 200: { description: 'The live edition.', ...json(ref('Point')) }, 404: refused('No such form, or it is not live.') },
        },
      },
      '/w/points/{key}/entries': {
        post: {
          operationId: 'sendEntry',
          summary: 'Send an entry',
          security: [],
          parameters: [
            keyInPath,
            {
              name: 'Idempotency-Key',
              in: 'header',
              required: false,
              schema: { type: 'string', maxLength: 200 },
              description: 'The same key again gives the same answer and one entry.',
            },
          ],
          requestBody: {
            required: true,
            content: {
              'application/json': { schema: ref('Entry') },
              'application/x-www-form-urlencoded': { schema: { type: 'object', additionalProperties: { type: 'string' } } },
              'multipart/form-data': {
                schema: {
                  type: 'object',
                  description:
                    'As an ordinary form, with files by question key; or the JSON of an entry in the field `_entry`, beside the files.',
                },
              },
            },
          },
          responses: {
            201: {
              description: 'It is on disk. Of somebody nameless there is no entry, but what says later that it was theirs: `finished`.',
              ...json(
                object({ entry: { type: 'string', format: 'uuid' }, finished: { type: 'string', format: 'uuid' }, next: ref('Next') }, [
                  'entry',
                  'finished',
                ]),
              ),
            },
            303: { description: 'To the thank-you page or on to another address, for an ordinary form post.' },
            400: refused('Not JSON.'),
            403: refused('Not from this site.'),
            404: refused('No such form, or it is not live.'),
            410: refused('It takes no entries now.'),
            413: refused('Over 64 kB, or over 25 MB with files.'),
            415: refused('Another content type.'),
            422: refused('Answers are missing or wrong, field by field.'),
            428: refused('The form asks for a proof of work: `challenge` is the sum to work out.'),
            429: refused('Too many from this address, or for this form.'),
          },
        },
      },
    },
    components: {
      securitySchemes: { key: { type: 'http', scheme: 'bearer' } },
      schemas: {
        // What is read is described by the classes that check it; beside requests that is what archives bring in (docs/archive.md).
        ...schemasOf([Entry, AddedEvent, PointDefinition, PageDefinition, Scorecard, RoutingPlan]),
        Condition: {
          description: 'One nested all/any/none tree over attributes and what somebody did.',
          oneOf: [
            ...['all', 'any', 'none'].map(join => object({ [join]: { type: 'array', items: ref('Condition'), maxItems: 100 } })),
            object(
              {
                attribute: { type: 'string' },
                is: { enum: COMPARISONS },
                value: {
                  description: 'A list with `one_of`; none with `filled` and `empty`.',
                  oneOf: [SCALAR, { type: 'array', items: SCALAR }],
                },
              },
              ['value'],
            ),
            object(
              {
                did: { enum: [...ACTIVITY_KINDS] },
                where: { oneOf: [ref('Condition'), { type: 'null' }], description: 'Of the single activity.' },
                times: { type: 'integer', minimum: 1, default: 1 },
                days: { type: ['integer', 'null'], minimum: 1, description: 'Within the last so many; null: ever.' },
              },
              ['where', 'times', 'days'],
            ),
          ],
        },
        Lead: object({
          id: { type: 'string', format: 'uuid' },
          email: nullable('string', { description: 'Null of who is known by another property only.' }),
          firstName: nullable('string'),
          lastName: nullable('string'),
          company: nullable('string'),
          properties: {
            type: 'object',
            additionalProperties: { oneOf: [{ type: 'string' }, { type: 'array', items: { type: 'string' } }] },
            description:
              'Texts; lists where several were chosen. Money in the smallest unit, dates as 2026-04-18, yes-no as `yes` or `no`, files as `id/name` (see `/api/v1/files/{id}`).',
          },
          tags: { type: 'array', items: { type: 'string' } },
          label: nullable('string'),
          fit: { type: 'integer' },
          interest: { type: 'integer', description: 'As it has faded until now.' },
          reasons: { type: 'array', items: ref('Reason'), description: 'The `now` of the lines of an axis add up to it.' },
          owner: {
            oneOf: [
              object({ id: { type: 'string', format: 'uuid' }, name: { type: 'string' }, email: { type: 'string' } }),
              { type: 'null' },
            ],
          },
          status: { type: 'string' },
          nextStep: { oneOf: [object({ text: { type: 'string' }, due: { type: 'string', format: 'date-time' } }), { type: 'null' }] },
          submitted: { type: 'boolean', description: 'False of who typed something and has not sent it.' },
          createdAt: { type: 'string', format: 'date-time' },
          updatedAt: { type: 'string', format: 'date-time' },
        }),
        Reason: object({
          axis: { enum: ['fit', 'interest'] },
          rule: { type: 'string' },
          points: { type: 'integer' },
          now: { type: 'integer' },
          at: { type: 'string', format: 'date-time' },
        }),
        Point: object(
          {
            key: { type: 'string' },
            edition: { type: 'integer' },
            language: { enum: LANGUAGE_KEYS, description: 'Of its texts (BCP 47).' },
            words: { type: 'object', additionalProperties: { type: 'string' }, description: 'What is ours on it, in its language.' },
            title: { type: 'string' },
            intro: { type: 'string' },
            button: { type: 'string' },
            theme: ref('Theme'),
            drawn: { type: 'object', description: 'The look as CSS variables and font files, as the script uses it.' },
            closed: { type: 'string', description: 'It takes no entries now; this is what visitors read.' },
            questions: {
              type: 'array',
              items: object(
                {
                  key: { type: 'string' },
                  kind: { enum: [...QUESTION_KINDS] },
                  label: { type: 'string' },
                  required: { type: 'boolean' },
                  help: { type: 'string' },
                  placeholder: { type: 'string' },
                  error: { type: 'string' },
                  preset: { oneOf: [{ type: 'string' }, { type: 'array', items: { type: 'string' } }] },
                  autocomplete: { type: 'string' },
                  newPage: { const: true, description: 'Begins a new page.' },
                  parameter: { type: 'string', description: 'The page’s address answers it, by this parameter.' },
                  shownIf: { type: 'object', description: 'Asked only if this condition holds of the answers before it (`answer.<key>`).' },
                  limits: object({ least: LIMIT, most: LIMIT }),
                  choices: { type: 'array', items: object({ value: { type: 'string' }, text: { type: 'string' } }) },
                  files: object({ endings: several, megabytes: { type: 'integer' } }),
                },
                ['help', 'choices', 'placeholder', 'error', 'preset', 'autocomplete', 'newPage', 'parameter', 'shownIf', 'limits', 'files'],
              ),
            },
          },
          ['closed'],
        ),
        Next: {
          description: 'What comes next. A `url` without a `text` is gone to at once; with one, it is offered beside it.',
          oneOf: [
            object({ kind: { const: 'message' }, text: { type: 'string' }, ways: ref('Ways') }, ['ways']),
            object({ kind: { enum: ['address', 'page'] }, url: { type: 'string' } }),
            object(
              { kind: { const: 'file' }, text: { type: 'string' }, url: { type: 'string' }, name: { type: 'string' }, ways: ref('Ways') },
              ['ways'],
            ),
            object({ kind: { const: 'result' }, html: { type: 'string', description: 'What a quiz came to, to stand in its place.' } }),
            object(
              {
                kind: { const: 'meeting' },
                text: { type: 'string' },
                url: { type: 'string', description: 'Where the visitor chooses a time.' },
                ways: ref('Ways'),
              },
              ['ways'],
            ),
          ],
        },
        Ways: {
          type: 'array',
          description: 'What the visitor may do afterwards.',
          items: object({ text: { type: 'string' }, url: { type: 'string' }, small: { type: 'boolean' } }, ['small']),
        },
        Job: object({
          id: { type: 'string', format: 'uuid' },
          state: { enum: ['waiting', 'working', 'done', 'failed'] },
          progress: { type: 'number', minimum: 0, maximum: 1 },
          problem: nullable('string', { description: 'Why nothing could be learned.' }),
          result: {
            oneOf: [
              { type: 'null' },
              object({
                rules: {
                  type: 'array',
                  items: object({ when: ref('Condition'), points: { type: 'integer' }, sentence: { type: 'string' } }),
                },
                intercept: { type: 'number', description: 'Log odds of the outcome at no points.' },
                perPoint: { type: 'number', description: 'What a point adds to them.' },
                crossValidated: object({
                  auc: { type: 'number' },
                  aucRange: { type: 'array', items: { type: 'number' }, minItems: 2, maxItems: 2, description: '95% (DeLong).' },
                  topShare: { type: 'array', items: object({ share: { type: 'number' }, captured: { type: 'number' } }) },
                }),
                rows: { type: 'integer' },
                positives: { type: 'integer' },
                notes: { type: 'array', items: { type: 'string' } },
              }),
            ],
          },
        }),
        Problem: {
          type: 'object',
          required: ['type', 'title', 'status', 'detail'],
          properties: {
            type: { type: 'string' },
            title: { type: 'string' },
            status: { type: 'integer' },
            detail: { type: 'string' },
            errors: { type: 'array', items: object({ field: { type: 'string' }, message: { type: 'string' } }) },
          },
        },
      },
    },
  }
}

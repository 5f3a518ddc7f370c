import { defineEventHandler, readBody, setResponseStatus } from 'h3'
import postgres from 'postgres'

// The floor: the smallest route that puts one row on disk and answers.
const sql = postgres(process.env.FLOOR_DATABASE!, { max: 10 })

export default defineEventHandler(async event => {
  const body = await readBody(event)
  const [row] = await sql`insert into floor (body) values (${sql.json(body)}) returning id`
  setResponseStatus(event, 201)
  return { id: row!.id }
})

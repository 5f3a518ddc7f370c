import { IsString, MaxLength } from 'class-validator'
import { defineEventHandler, setResponseStatus } from 'h3'
import { readHostName } from '#core/points/hosts'
import { addHost } from '#db/hosts'
import { database } from '#server/database'
import { allHosts } from '#server/hosts'
import { changed } from '#server/live/changed'
import { problem } from '#server/problem'
import { memberOf } from '#server/session'
import { ownAddress } from '#server/settings'
import { readChecked } from '#server/wire'

class NewHost {
  @IsString() @MaxLength(300) name!: string
}
const MOST = 50

/** Takes in a name under which forms and pages are to be found. */
export default defineEventHandler(async event => {
  await memberOf(event, 'edit site')
  const read = readHostName((await readChecked(event, NewHost)).name)
  const wrong = (message: string) => problem(422, message, [{ field: 'name', message }])
  if ('flaw' in read) throw wrong(read.flaw)
  const { name } = read
  if (name === new URL(ownAddress() || 'http://localhost').hostname)
    throw wrong('This is Cavlin’s own address already. Write another name.')
  if ((await allHosts()).length >= MOST) throw wrong(`There are ${MOST} names already. Take one away first.`)
  if (!(await addHost(database(), name))) throw wrong('This name is there already.')
  await changed({ site: true })
  setResponseStatus(event, 201)
  return { name }
})

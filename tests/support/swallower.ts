import { connect, createServer, type AddressInfo, type Socket } from 'node:net'

/**
 * A line between the application and its database that can be told to swallow all that is sent, on either side, without a
 * word: neither what is in a connection arrives, nor its end, nor that another is wanted.
 */
export async function swallower(port: number) {
  let swallows = false
  const open = new Set<Socket>()
  /** Connections of which something was swallowed, or whose end was: they never mend. */
  const orphans = new Set<Socket>()
  const server = createServer(near => {
    open.add(near)
    near.on('error', () => {}).on('close', () => open.delete(near))
    if (swallows) return void orphans.add(near)
    const far = connect(port, '127.0.0.1')
    open.add(far)
    far.on('error', () => {}).on('close', () => open.delete(far))
    for (const [from, to] of [
      [near, far],
      [far, near],
    ] as const) {
      from
        .on('data', (chunk: Buffer) => {
          if (!swallows && !orphans.has(to)) return void (to.writable && to.write(chunk))
          orphans.add(from)
          orphans.add(to)
        })
        .on('close', () => {
          if (swallows) orphans.add(to)
          else to.destroy()
        })
    }
  })
  await new Promise<void>(done => server.listen(0, '127.0.0.1', done))
  return {
    port: (server.address() as AddressInfo).port,
    swallow(yes: boolean) {
      swallows = yes
      if (yes) return
      for (const socket of orphans) socket.destroy()
      orphans.clear()
    },
    close() {
      for (const socket of open) socket.destroy()
      server.close()
    },
  }
}

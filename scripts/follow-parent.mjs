// Loaded before a child's own code: when the one who started it is gone, however that
// came about, the child ends too instead of holding its port and its files.
if (process.send) {
  process.on('disconnect', () => {
    process.kill(process.pid, 'SIGTERM')
    setTimeout(() => process.exit(0), 4000).unref()
  })
  process.channel?.unref()
}

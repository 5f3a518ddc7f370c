export default defineNuxtRouteMiddleware(async to => {
  const session = useSession()
  // Both at once: whoever comes back is nearly always signed in still.
  if (!session.known)
    await Promise.all([
      session.look(),
      to.path === '/sign-in'
        ? null
        : useHouse()
            .load()
            .catch(() => {}),
    ])
  if (!session.me && to.path !== '/sign-in') return navigateTo({ path: '/sign-in', query: to.path === '/' ? {} : { to: to.fullPath } })
  if (session.me && to.path === '/sign-in') return navigateTo('/')
  if (session.me && !useHouse().words) await useHouse().load()
})

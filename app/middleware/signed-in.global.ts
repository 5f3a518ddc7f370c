export default defineNuxtRouteMiddleware(async (to) => {
  const session = useSession()
  if (!session.known) await session.look()
  if (!session.me && to.path !== '/sign-in') return navigateTo({ path: '/sign-in', query: to.path === '/' ? {} : { to: to.fullPath } })
  if (session.me && to.path === '/sign-in') return navigateTo('/')
  if (session.me && !useHouse().words) await useHouse().load()
})

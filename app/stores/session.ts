import { defineStore } from 'pinia'
import { may, type Act, type Role } from '#core/roles'

export interface Me {
  id: string
  name: string
  email: string
  role: Role
}

/** Who is signed in. */
export const useSession = defineStore('session', () => {
  const me = ref<Me | null>(null)
  const known = ref(false)

  /** It ended while somebody was at work; they stay who they are on the screen until they sign in again or leave. */
  const ended = ref(false)

  async function look(): Promise<void> {
    try {
      me.value = await api<Me>('/api/session')
      ended.value = false
    } catch (error) {
      if (!(error instanceof ApiError) || error.status !== 401) throw error
      if (me.value) ended.value = true
    }
    known.value = true
  }
  async function signInAgain(password: string): Promise<void> {
    await signIn(me.value!.email, password)
    ended.value = false
  }
  /** To the door, and back here for whoever comes in. */
  function leave(): void {
    const here = window.location.pathname + window.location.search
    window.location.assign(here === '/' ? '/sign-in' : `/sign-in?${new URLSearchParams({ to: here })}`)
  }
  async function signIn(email: string, password: string): Promise<void> {
    me.value = await api<Me>('/api/session', { method: 'POST', body: { email, password } })
    known.value = true
  }
  async function signOut(): Promise<void> {
    await api('/api/session', { method: 'DELETE' })
    // Everything that was fetched for this person goes with the page.
    window.location.assign('/sign-in')
  }
  return { me, known, ended, look, signIn, signInAgain, leave, signOut, may: (act: Act) => Boolean(me.value && may(me.value.role, act)) }
})

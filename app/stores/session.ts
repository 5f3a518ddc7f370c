import { defineStore } from 'pinia'
import { may, type Act, type Role } from '#core/roles'

export interface Me { id: string; name: string; email: string; role: Role }

/** Who is signed in. */
export const useSession = defineStore('session', () => {
  const me = ref<Me | null>(null)
  const known = ref(false)

  async function look(): Promise<void> {
    try {
      me.value = await api<Me>('/api/session')
    } catch (error) {
      if (!(error instanceof ApiError) || error.status !== 401) throw error
      me.value = null
    }
    known.value = true
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
  return { me, known, look, signIn, signOut, may: (act: Act) => Boolean(me.value && may(me.value.role, act)) }
})

<script setup lang="ts">
definePageMeta({ layout: 'plain' })
useHead({ title: 'Sign in – Cavlin' })

interface DemoMember {
  email: string
  password: string
  role: string
  name: string
}
const session = useSession()
const route = useRoute()
const email = ref('')
const password = ref('')
const problem = ref('')
const busy = ref(false)
const demo = ref<{ members: DemoMember[]; site: string | null; mailbox: string | null }>({ members: [], site: null, mailbox: null })
const DOES: Record<string, string> = {
  admin: 'Manager: sees and may do everything',
  marketer: 'Marketer: makes forms, sees what comes of them',
  sales: 'Salesperson: follows leads up',
}

onMounted(async () => {
  demo.value = await api<typeof demo.value>('/api/demo').catch(() => demo.value)
})

async function signIn(as?: DemoMember): Promise<void> {
  if (as) [email.value, password.value] = [as.email, as.password]
  problem.value = email.value.trim() && password.value ? '' : 'Fill in both your e-mail address and your password.'
  if (problem.value) return
  busy.value = true
  try {
    await session.signIn(email.value, password.value)
    const to = String(route.query.to ?? '/')
    await navigateTo(/^\/(?!\/)/.test(to) ? to : '/')
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="door">
    <div class="mark"><img src="/icon.svg" alt="" width="40" height="40"><h1>Cavlin</h1></div>
    <p class="faded">Who came, who matters, who answers.</p>
    <div class="columns" :class="{ single: !demo.members.length }">
      <form class="sheet" @submit.prevent="signIn()">
        <h2>Sign in</h2>
        <label for="email">E-mail address</label>
        <InputText id="email" v-model="email" type="email" autocomplete="username" fluid />
        <label for="password">Password</label>
        <InputText id="password" v-model="password" type="password" autocomplete="current-password" fluid />
        <p class="problem" role="alert">{{ problem }}</p>
        <Button type="submit" label="Sign in" :loading="busy" />
      </form>
      <section v-if="demo.members.length" class="sheet" aria-labelledby="demo-title">
        <h2 id="demo-title">Look around as somebody of Larkmoss Glasshouses</h2>
        <ul>
          <li v-for="member in demo.members" :key="member.email">
            <button type="button" :disabled="busy" @click="signIn(member)">
              <b>{{ member.name }}</b>
              <span class="faded">{{ DOES[member.role] }}</span>
            </button>
          </li>
        </ul>
        <p class="small faded">A made-up firm with made-up people. Its <a :href="demo.site ?? ''">web site</a> has the forms; its
          <a :href="demo.mailbox ?? ''">mailbox</a> gets the mail.</p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.door { max-width: 860px; margin: 0 auto; padding: 8vh 16px 40px; }
.mark { display: flex; gap: 14px; align-items: center; }
h1 { font-size: 34px; line-height: 40px; }
.columns { display: grid; grid-template-columns: minmax(0, 5fr) minmax(0, 6fr); gap: 20px; margin-top: 24px; align-items: start; }
.single { grid-template-columns: minmax(0, 400px); }
.sheet { padding: 20px; }
form { display: grid; gap: 6px; }
form .p-button { justify-self: start; }
label { margin-top: 8px; font-weight: 560; }
.problem { min-height: 22px; color: var(--brick); }
ul { list-style: none; margin: 10px 0; padding: 0; }
li button { display: grid; width: 100%; text-align: left; padding: 9px 4px; background: none; border: 0; border-top: 1px solid var(--rule); font: inherit; color: inherit; cursor: pointer; }
li button:hover { background: var(--wash); }
@media (max-width: 700px) { .columns { grid-template-columns: 1fr; } .door { padding-top: 24px; } }
</style>

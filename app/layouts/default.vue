<script setup lang="ts">
import { Moon, Search, Sun } from 'lucide-vue-next'

const session = useSession()
const house = useHouse()
const live = useLive()
const router = useRouter()
const searching = ref(false)
const typed = ref('')
const keysShown = ref(false)
const [searched, keysAsked] = [useOnce(searching), useOnce(keysShown)]
const dark = ref(false)

if (session.me) live.open()
const stop = live.hear({ lists: true, segments: true, properties: true, colleagues: true, scorecard: true }, () => void house.load())
onScopeDispose(stop)

onMounted(() => {
  dark.value = document.documentElement.classList.contains('dark')
  window.addEventListener('keydown', pressKey)
})
onBeforeUnmount(() => window.removeEventListener('keydown', pressKey))

function turn(): void {
  dark.value = !dark.value
  document.documentElement.classList.toggle('dark', dark.value)
  try {
    localStorage.setItem('cavlin.theme', dark.value ? 'dark' : 'light')
  } catch {
    /* the choice holds for this page */
  }
}

useKeys({
  '0': () => void router.push('/'),
  ...Object.fromEntries(STAGES.map(s => [s.key, () => void router.push(s.path)])),
  '/': () => {
    searching.value = true
    // Until its field is there, what is typed would move about on the screen instead.
    typed.value = ''
    typeAhead(key => {
      typed.value += key
    })
  },
  '?': () => {
    keysShown.value = true
  },
})
</script>

<template>
  <div class="house">
    <a class="skip" href="#main">Skip to the content</a>
    <header class="top">
      <NuxtLink to="/" class="mark" aria-label="Cavlin, today">
        <img src="/icon.svg" alt="" width="26" height="26">
        <span>Cavlin</span>
      </NuxtLink>
      <FunnelBar />
      <div class="own">
        <Button v-tooltip.bottom="'Search ( / )'" variant="text" severity="secondary" aria-label="Search" @click="searching = true">
          <Search :size="18" aria-hidden="true" />
        </Button>
        <BellMenu />
        <SelfMenu @keys="keysShown = true">
          <template #theme>
            <Button variant="text" size="small" :label="dark ? 'Light' : 'Dark'" @click="turn">
              <template #icon><Sun v-if="dark" :size="16" aria-hidden="true" /><Moon v-else :size="16" aria-hidden="true" /></template>
            </Button>
          </template>
        </SelfMenu>
      </div>
    </header>
    <p v-if="!live.connected" class="offline" role="status">The line to Cavlin is down. What you see may be old; it comes back by
      itself.</p>
    <main id="main" tabindex="-1"><slot /></main>
    <LazySearchDialog v-if="searched" v-model:visible="searching" :ahead="typed" @ready="typeAhead(null); typed = ''" />
    <LazyKeysDialog v-if="keysAsked" v-model:visible="keysShown" />
    <SayCorner />
    <LazySignInAgain v-if="session.ended" />
  </div>
</template>

<style scoped>
.skip { position: absolute; left: -999px; }
.skip:focus { left: 8px; top: 8px; background: var(--sheet); padding: 6px 12px; z-index: 20; }
.top { position: sticky; top: 0; z-index: 10; display: flex; align-items: stretch; gap: 18px; padding: 0 20px; background: var(--paper); border-bottom: 1px solid var(--rule); }
.mark { display: flex; align-items: center; gap: 8px; color: inherit; text-decoration: none; font: 640 18px/1 var(--heading); }
.own { display: flex; align-items: center; gap: 2px; }
.offline { background: var(--wash); padding: 6px 20px; text-align: center; }
main { padding: 16px 20px 40px; outline: none; }
@media (max-width: 700px) {
  .top { flex-wrap: wrap; gap: 0 8px; padding: 0 10px; }
  .mark { padding: 8px 0; flex: 1; }
  .top :deep(.course) { order: 3; flex-basis: 100%; }
  main { padding: 12px 12px 40px; }
}
</style>

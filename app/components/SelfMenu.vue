<script setup lang="ts">
const emit = defineEmits<{ keys: [] }>()
const session = useSession()
const panel = ref<{ toggle: (e: Event) => void; hide: () => void }>()
const open = ref(false)
const inside = ref<HTMLElement>()
/** Whoever opens it is in it, and goes on from there. */
function onShow(): void {
  open.value = true
  void nextTick(() => (inside.value?.querySelector<HTMLElement>('a, button') ?? inside.value)?.focus())
}
const changing = ref(false)
const changed = useOnce(changing)
const initials = computed(
  () =>
    session.me?.name
      .split(/[\s-]+/)
      .map(part => part[0])
      .slice(0, 2)
      .join('') ?? '',
)
</script>

<template>
  <Button
    variant="text"
    severity="secondary"
    :aria-label="`${session.me?.name}, ${session.me?.role}`"
    aria-haspopup="dialog"
    :aria-expanded="open"
    @click="panel?.toggle($event)"
  >
    <span class="initials">{{ initials }}</span>
  </Button>
  <Popover ref="panel" aria-label="Yourself" @show="onShow" @hide="open = false">
    <div ref="inside" class="panel" tabindex="-1">
      <p><b>{{ session.me?.name }}</b><br><span class="faded">{{ session.me?.email }}, {{ session.me?.role }}</span></p>
      <slot name="theme" />
      <Button variant="text" size="small" label="Keys on the keyboard" @click="panel?.hide(); emit('keys')" />
      <NuxtLink v-slot="{ navigate }" to="/settings/telling" custom>
        <Button variant="text" size="small" label="What reaches you" @click="panel?.hide(); navigate()" />
      </NuxtLink>
      <NuxtLink v-slot="{ navigate }" to="/settings/site" custom>
        <Button variant="text" size="small" label="The site" @click="panel?.hide(); navigate()" />
      </NuxtLink>
      <NuxtLink v-slot="{ navigate }" to="/settings/words" custom>
        <Button variant="text" size="small" label="Words to visitors" @click="panel?.hide(); navigate()" />
      </NuxtLink>
      <NuxtLink v-if="session.may('manage keys')" v-slot="{ navigate }" to="/settings/keys" custom>
        <Button variant="text" size="small" label="Keys for programs" @click="panel?.hide(); navigate()" />
      </NuxtLink>
      <NuxtLink v-if="session.may('manage members')" v-slot="{ navigate }" to="/settings/colleagues" custom>
        <Button variant="text" size="small" label="Colleagues" @click="panel?.hide(); navigate()" />
      </NuxtLink>
      <NuxtLink v-if="session.may('manage deliveries')" v-slot="{ navigate }" to="/settings/deliveries" custom>
        <Button variant="text" size="small" label="Deliveries" @click="panel?.hide(); navigate()" />
      </NuxtLink>
      <Button variant="text" size="small" label="Change the password" @click="panel?.hide(); changing = true" />
      <Button variant="outlined" size="small" label="Sign out" @click="session.signOut()" />
    </div>
  </Popover>
  <LazyPasswordDialog v-if="changed" v-model:visible="changing" />
</template>

<style scoped>
.initials { display: grid; place-items: center; width: 28px; height: 28px; border: 1px solid var(--faded); border-radius: 50%; font: 600 12px/1 var(--text); color: var(--ink); }
.panel { display: grid; gap: 6px; justify-items: start; min-width: 220px; }
</style>

<script setup lang="ts">
import { toDataURL, toString as toSvg } from 'qrcode'
import { frameTag, plainHtml, scriptTag } from '#core/points/copies'
import { publicPoint, type PointDefinition } from '#core/points/definition'
import { reservedHeight } from '#core/points/markup'
import type { CopyView, EditionListing, PointView } from '#core/team'

/** The ways a live point gets to visitors, each to copy; where it stands already; and its editions. */
const props = defineProps<{ point: PointView<unknown>; mayEdit: boolean }>()
const emit = defineEmits<{ back: [definition: unknown, number: number] }>()
const say = useToasts()
const origin = window.location.origin
const { data: hosts } = useHosts()
const base = computed(() => standingAt(props.point.host, hosts.value))
const address = computed(() => `${base.value}/p/${props.point.slug}`)
const isPage = computed(() => props.point.kind === 'page')
const live = computed(() =>
  !isPage.value && props.point.live
    ? publicPoint(props.point.key, props.point.live.number, props.point.live.definition as PointDefinition)
    : null,
)
const { data: editions } = useLiveQuery(
  () => api<EditionListing[]>(`/api/team/points/${props.point.id}/editions`),
  { points: [props.point.id] },
  1500,
)
const { data: copies } = useLiveQuery(
  async () => (isPage.value ? [] : api<CopyView[]>(`/api/team/points/${props.point.id}/copies`)),
  { leads: true, points: [props.point.id] },
  3000,
)

const page = ref('')
const WAYS = [
  {
    key: 'tag',
    name: 'Tag',
    copy: 'Copy the tag',
    why: 'Paste it where the form should stand. It follows every later edition, and keeps the room the form needs so that nothing jumps.',
  },
  {
    key: 'plain',
    name: 'Plain HTML',
    copy: 'Copy the HTML',
    why: 'A whole form that needs no script. It does not follow later editions: copy it anew after each. Copies that ask an old edition show up below by themselves.',
  },
  { key: 'frame', name: 'Frame', copy: 'Copy the frame', why: 'For sites that allow no foreign scripts. It follows every later edition.' },
  {
    key: 'page',
    name: 'Page of its own',
    copy: 'Copy the address',
    why: 'An address to link to or to send, also as a code to print. It needs no script.',
  },
] as const
/** A chat lives by its script: there is no plain copy of it. */
const isChat = computed(() => props.point.kind === 'chat')
const ways = computed(() =>
  isChat.value
    ? WAYS.filter(w => w.key !== 'plain').map(w =>
        w.key === 'tag'
          ? {
              ...w,
              why: 'Paste it where the chat should stand in the text. Where it shows by itself, the site’s one tag is enough. Either follows every later edition.',
            }
          : w.key === 'page'
            ? { ...w, why: 'An address to link to or to send, also as a code to print.' }
            : w,
      )
    : WAYS,
)
const CHAT_HEIGHT = 546
const way = ref<(typeof WAYS)[number]['key']>(props.point.kind === 'page' ? 'page' : 'tag')
const shown = computed(() => ways.value.find(w => w.key === way.value)!)
const text = computed(() => {
  if (isPage.value) return address.value
  if (!live.value) return ''
  const height = isChat.value ? CHAT_HEIGHT : reservedHeight(live.value)
  if (way.value === 'tag') return scriptTag(origin, props.point.key, height)
  if (way.value === 'frame') return frameTag(base.value, props.point.slug, live.value.title || props.point.name, height)
  return way.value === 'plain' ? plainHtml(origin, live.value, page.value.trim() || null) : address.value
})
const code = ref('')
watch(
  address,
  async url => {
    code.value = await toSvg(url, { type: 'svg', margin: 2, color: { dark: '#1d2a2b', light: '#ffffff' } })
  },
  { immediate: true },
)

async function copy(): Promise<void> {
  try {
    await navigator.clipboard.writeText(text.value)
    say.done('Copied.')
  } catch {
    say.failed(new Error('The browser does not let us copy. Mark the text and copy it by hand.'))
  }
}
async function download(kind: 'svg' | 'png'): Promise<void> {
  const link = document.createElement('a')
  link.download = `${props.point.slug}.${kind}`
  link.href =
    kind === 'svg'
      ? URL.createObjectURL(new Blob([code.value], { type: 'image/svg+xml' }))
      : await toDataURL(address.value, { width: 1024, margin: 2 })
  link.click()
}
async function back(number: number): Promise<void> {
  try {
    emit('back', (await api<{ definition: unknown }>(`/api/team/points/${props.point.id}/editions/${number}`)).definition, number)
  } catch (error) {
    say.failed(error)
  }
}
async function call(number: number, name: string): Promise<void> {
  try {
    await api(`/api/team/points/${props.point.id}/editions/${number}`, { method: 'PUT', body: { name } })
    say.done(name.trim() ? `Edition ${number} is called “${name.trim()}”.` : `Edition ${number} goes by its number.`)
  } catch (error) {
    say.failed(error)
  }
}
const VIA: Record<string, string> = { script: 'Tag', page: 'Page of its own', plain: 'Plain HTML', frame: 'Frame', program: 'A program' }
const stale = computed(() => copies.value?.filter(c => c.stale) ?? [])
</script>

<template>
  <div class="ways">
    <p v-if="!point.live" class="faded">Nobody can reach it yet. Make it live first; then
      {{ isPage ? 'its address stands' : 'the ways to put it on a page stand' }} here.</p>
    <template v-else>
      <section aria-label="Ways out">
        <div v-if="!isPage" class="tabs" role="group" aria-label="How it gets onto a page">
          <Button
            v-for="w in ways"
            :key="w.key"
            :label="w.name"
            size="small"
            :variant="way === w.key ? 'outlined' : 'text'"
            :aria-pressed="way === w.key"
            @click="way = w.key"
          />
        </div>
        <p class="faded">{{ shown.why }}</p>
        <template v-if="way === 'plain'">
          <label for="copy-page">On which page will it stand? <span class="faded">Browsers tell us only the site.</span></label>
          <InputText id="copy-page" v-model="page" placeholder="https://firm.example/contact" fluid maxlength="2000" />
        </template>
        <pre tabindex="0" :data-way="way">{{ text }}</pre>
        <div class="acts">
          <Button :label="shown.copy" size="small" @click="copy" />
          <a v-if="way === 'page'" :href="address" target="_blank" rel="noopener">Open it</a>
        </div>
        <OwnAddress v-if="way === 'page' && !isPage && mayEdit" :id="point.id" :slug="point.slug" :host="point.host" :disabled="false" />
        <div v-if="way === 'page'" class="code">
          <!-- eslint-disable-next-line vue/no-v-html — drawn from an address by a library -->
          <div class="square" role="img" :aria-label="`A code that leads to ${address}`" v-html="code" />
          <div class="acts">
            <Button label="As SVG" size="small" variant="outlined" @click="download('svg')" />
            <Button label="As PNG" size="small" variant="outlined" @click="download('png')" />
          </div>
        </div>
      </section>
      <section v-if="copies?.length">
        <h2>Where entries came from <span class="faded small">in the last 90 days</span></h2>
        <p v-if="stale.length" class="warn">
          {{ count(stale.length, 'plain copy asks', 'plain copies ask') }} an old edition. Copy the HTML anew onto
          {{ stale.length === 1 ? 'that page' : 'those pages' }}.</p>
        <table class="figures">
          <thead><tr><th>Page</th><th>How</th><th>Edition</th><th class="n">Entries</th><th>Last</th></tr></thead>
          <tbody>
            <tr v-for="c in copies" :key="`${c.via} ${c.page}`">
              <td class="page-cell">{{ c.page ?? 'not told' }}</td>
              <td>{{ VIA[c.via] ?? c.via }}</td>
              <td>{{ c.edition }} <b v-if="c.stale" class="brick">stale</b></td>
              <td class="n">{{ c.entries }}</td>
              <td>{{ ago(c.lastAt) }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="editions?.length">
        <h2>Editions</h2>
        <p class="faded">Each is kept as it was. To go back to an earlier one, take it as your working copy, look at it, and make it
          live.</p>
        <table class="figures">
          <thead>
            <tr>
              <th>Edition</th>
              <th>Called</th>
              <th>Made</th>
              <th v-if="!isPage" class="n">Entries</th>
              <th><span class="unseen">What to do</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="e in editions" :key="e.number">
              <td>{{ e.number }} <b v-if="e.live">live</b></td>
              <td class="name-cell">
                <InputText
                  v-if="mayEdit"
                  :model-value="e.name ?? ''"
                  size="small"
                  fluid
                  maxlength="80"
                  placeholder="No name"
                  :aria-label="`Name of edition ${e.number}`"
                  @change="call(e.number, ($event.target as HTMLInputElement).value)"
                  @keydown.enter="($event.target as HTMLInputElement).blur()"
                />
                <template v-else>{{ e.name }}</template>
              </td>
              <td>{{ ago(e.madeAt) }}<template v-if="e.madeBy"> by {{ e.madeBy }}</template></td>
              <td v-if="!isPage" class="n">{{ e.entries }}</td>
              <td class="n">
                <Button
                  v-if="mayEdit && !e.live"
                  label="Take it as working copy"
                  :aria-label="`Take edition ${e.number} as working copy`"
                  size="small"
                  variant="text"
                  @click="back(e.number)"
                />
              </td>
            </tr>
          </tbody>
        </table>
      </section>
    </template>
  </div>
</template>

<style scoped>
.ways { display: grid; gap: 26px; max-width: 860px; }
section { display: grid; gap: 8px; justify-items: start; min-width: 0; }
section > table { width: 100%; }
.tabs, .acts { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; }
label { font-size: 14px; }
pre { width: 100%; max-height: 15rem; overflow: auto; white-space: pre-wrap; overflow-wrap: anywhere; background: var(--sheet); border: 1px solid var(--rule); padding: 10px 12px; margin: 0; font-size: 13px; line-height: 19px; }
.code { display: flex; gap: 16px; align-items: end; margin-top: 6px; }
.square { width: 132px; height: 132px; border: 1px solid var(--rule); background: #fff; }
.warn { padding: 6px 12px; border-left: 3px solid var(--brick); background: var(--sheet); }
td, th { padding: 6px 12px 6px 0; border-bottom: 1px solid var(--rule); vertical-align: top; }
.name-cell { min-width: 130px; }
.page-cell { overflow-wrap: anywhere; }
</style>

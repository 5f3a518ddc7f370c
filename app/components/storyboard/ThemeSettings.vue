<script setup lang="ts">
import { contrast, HOUSE_THEME, PATTERNS, readableOn, type Theme, type Mark, type Pattern } from '#core/points/theme'
import type { Asset } from '~/components/FilePick.vue'

/** How a point looks: a few decisions, with the contrast in sight while choosing; its own, or a house style that many follow. */
const definition = defineModel<{ theme: Theme; houseStyle: string | null }>({ required: true })
const props = defineProps<{ disabled: boolean }>()
const say = useToasts()
interface HouseStyle {
  id: string
  name: string
  theme: Theme
  points: number
}
const { data: styles, refresh } = useLiveQuery(() => api<HouseStyle[]>('/api/team/styles'), { styles: true }, 1500)
const followed = computed(() => styles.value?.find(s => s.id === definition.value.houseStyle) ?? null)
/** While a house style is changed for all, what it will look like. */
const forAll = ref<Theme | null>(null)
const keeping = ref(false)
const name = ref('')
const flaw = ref('')

const theme = computed<Theme>({
  get: () => forAll.value ?? definition.value.theme,
  set: next => {
    if (forAll.value) forAll.value = next
    // The preview follows at once; the style itself is changed when it is kept.
    definition.value = { ...definition.value, theme: next }
  },
})
const set = (change: Partial<Theme>) => {
  theme.value = { ...theme.value, ...change }
}
const closed = computed(() => props.disabled || (followed.value !== null && !forAll.value))
const choices = computed(() => [
  { id: null as string | null, name: 'A look of its own' },
  ...(styles.value ?? []).map(s => ({ id: s.id as string | null, name: s.name })),
])

function follow(id: string | null): void {
  forAll.value = null
  definition.value = {
    ...definition.value,
    houseStyle: id,
    theme: { ...(styles.value?.find(s => s.id === id)?.theme ?? definition.value.theme) },
  }
}
async function keep(): Promise<void> {
  try {
    const { id } = await api<{ id: string }>('/api/team/styles', {
      method: 'POST',
      body: { name: name.value, theme: definition.value.theme },
    })
    await refresh()
    follow(id)
    keeping.value = false
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
async function changeForAll(): Promise<void> {
  try {
    await api(`/api/team/styles/${followed.value!.id}`, { method: 'PUT', body: { theme: forAll.value } })
    say.done(`${followed.value!.name} is changed, on all ${count(followed.value!.points, 'form', 'forms')} that follow it.`)
    forAll.value = null
    await refresh()
  } catch (error) {
    say.failed(error)
  }
}
function stopChanging(): void {
  forAll.value = null
  if (followed.value) definition.value = { ...definition.value, theme: { ...followed.value.theme } }
}

const COLOURS = [
  { key: 'sheet', name: 'Ground' },
  { key: 'ink', name: 'Text' },
  { key: 'accent', name: 'Button and links' },
] as const
const PATTERN_NAMES: Record<Pattern, string> = { panes: 'Panes', furrows: 'Furrows', seeds: 'Seeds', shade: 'Shade' }
const backdrops = [
  { key: 'plain', name: 'Plain' },
  ...PATTERNS.map(key => ({ key: key as string, name: PATTERN_NAMES[key] })),
  { key: 'picture', name: 'A picture' },
]
const wishing = ref(false)
const backdrop = computed(() =>
  wishing.value ? 'picture' : theme.value.backdrop.kind === 'pattern' ? theme.value.backdrop.pattern : theme.value.backdrop.kind,
)
function setBackdrop(key: string): void {
  // A picture lies there once one is chosen.
  wishing.value = key === 'picture' && theme.value.backdrop.kind !== 'picture'
  if (key === 'plain') set({ backdrop: { kind: 'plain' } })
  else if (key !== 'picture') set({ backdrop: { kind: 'pattern', pattern: key as Pattern } })
}
const markOf = (a: Asset, alt: string): Mark => ({ file: { id: a.id, name: a.name }, width: a.width!, height: a.height!, alt })
function layPicture(asset: Asset): void {
  wishing.value = false
  set({ backdrop: { kind: 'picture', picture: markOf(asset, '') } })
}
type Shape = Exclude<keyof Theme, 'sheet' | 'ink' | 'accent' | 'backdrop' | 'logo' | 'header'>
const SHAPES: { key: Shape; name: string; choices: { value: string; name: string }[] }[] = [
  {
    key: 'font',
    name: 'Font',
    choices: [
      { value: 'page', name: 'As the page' },
      { value: 'plain', name: 'Plain' },
      { value: 'bookish', name: 'Bookish' },
      { value: 'round', name: 'Round' },
      { value: 'upright', name: 'Upright' },
    ],
  },
  {
    key: 'corners',
    name: 'Corners',
    choices: [
      { value: 'square', name: 'Square' },
      { value: 'soft', name: 'Soft' },
      { value: 'round', name: 'Round' },
    ],
  },
  {
    key: 'fields',
    name: 'Fields',
    choices: [
      { value: 'boxed', name: 'Boxed' },
      { value: 'lined', name: 'A line' },
      { value: 'filled', name: 'Filled' },
    ],
  },
  {
    key: 'button',
    name: 'Button',
    choices: [
      { value: 'natural', name: 'As its text' },
      { value: 'full', name: 'Full width' },
    ],
  },
  {
    key: 'width',
    name: 'Width',
    choices: [
      { value: 'narrow', name: 'Narrow' },
      { value: 'medium', name: 'Medium' },
      { value: 'wide', name: 'Wide' },
    ],
  },
  {
    key: 'align',
    name: 'Title',
    choices: [
      { value: 'start', name: 'At the side' },
      { value: 'center', name: 'In the middle' },
    ],
  },
]
/** A hex colour is taken when it is whole; until then what is typed stands. */
function typed(key: 'sheet' | 'ink' | 'accent', text: string): void {
  const hex = text.trim().toLowerCase().replace(/^#?/, '#')
  const whole = /^#[0-9a-f]{3}$/.test(hex) ? `#${[...hex.slice(1)].map(c => c + c).join('')}` : hex
  if (/^#[0-9a-f]{6}$/.test(whole)) set({ [key]: whole })
}
const ratios = computed(() => [
  { name: 'Text on the ground', ratio: contrast(theme.value.ink, theme.value.sheet), least: 4.5 },
  { name: 'Button on the ground', ratio: contrast(theme.value.accent, theme.value.sheet), least: 3 },
  { name: 'Words on the button', ratio: contrast(readableOn(theme.value.accent), theme.value.accent), least: 4.5 },
])
const own = computed(() => JSON.stringify(theme.value) !== JSON.stringify(HOUSE_THEME))
</script>

<template>
  <div class="styles">
    <label for="house-style">House style</label>
    <div class="row">
      <Select
        input-id="house-style"
        :model-value="definition.houseStyle"
        :options="choices"
        option-label="name"
        option-value="id"
        :disabled="disabled || forAll !== null"
        fluid
        placeholder="A look of its own"
        aria-label="House style"
        @update:model-value="follow"
      />
      <Button
        v-if="!disabled && !followed"
        label="Keep this look for others"
        variant="outlined"
        size="small"
        @click="name = ''; flaw = ''; keeping = true"
      />
    </div>
    <p v-if="followed && !forAll" class="small faded">
      {{ count(followed.points, 'form follows', 'forms follow') }} “{{ followed.name }}”.
      <Button v-if="!disabled" label="Change it for all" variant="text" size="small" @click="forAll = { ...followed.theme }" />
    </p>
    <p v-if="followed && forAll" class="all">You are changing “{{ followed.name }}”, on every form that follows it, also the live ones.
      <Button
        label="Keep it so"
        size="small"
        @click="changeForAll"
      /> <Button
        label="Leave it as it was"
        size="small"
        variant="text"
        @click="stopChanging"
      />
    </p>
  </div>
  <fieldset class="theme" :disabled="closed">
    <legend class="unseen">Look</legend>
    <div class="colours">
      <div v-for="colour in COLOURS" :key="colour.key" class="colour">
        <label :for="`theme-${colour.key}`">{{ colour.name }}</label>
        <span class="pick">
          <input
            type="color"
            :value="theme[colour.key]"
            :aria-label="`${colour.name}, chosen from a palette`"
            @input="set({ [colour.key]: ($event.target as HTMLInputElement).value })"
          >
          <InputText
            :id="`theme-${colour.key}`"
            :model-value="theme[colour.key]"
            size="small"
            fluid
            maxlength="7"
            spellcheck="false"
            @update:model-value="typed(colour.key, $event ?? '')"
          />
        </span>
      </div>
    </div>
    <ul class="ratios">
      <li v-for="r in ratios" :key="r.name" :class="{ poor: r.ratio < r.least }">
        <span>
          {{ r.name }}
        </span> <b>
          {{ r.ratio.toFixed(1) }}
        </b> <span class="faded">
          {{ r.ratio < r.least ? `too little; ${r.least} is needed` : 'reads well' }}
        </span>
      </li>
    </ul>
    <div v-for="shape in SHAPES" :key="shape.key" class="shape" role="radiogroup" :aria-label="shape.name">
      <span class="name">{{ shape.name }}</span>
      <label v-for="choice in shape.choices" :key="choice.value" :class="{ on: theme[shape.key] === choice.value }">
        <input
          type="radio"
          class="unseen"
          :name="`theme-${shape.key}`"
          :value="choice.value"
          :checked="theme[shape.key] === choice.value"
          @change="set({ [shape.key]: choice.value } as Partial<Theme>)"
        >{{ choice.name }}
      </label>
    </div>
    <div class="shape" role="radiogroup" aria-label="Behind it">
      <span class="name">Behind it</span>
      <label v-for="choice in backdrops" :key="choice.key" :class="{ on: backdrop === choice.key }">
        <input
          type="radio"
          class="unseen"
          name="theme-backdrop"
          :value="choice.key"
          :checked="backdrop === choice.key"
          @change="setBackdrop(choice.key)"
        >{{ choice.name }}
      </label>
    </div>
    <FilePick
      v-if="backdrop === 'picture'"
      :chosen="theme.backdrop.kind === 'picture' ? theme.backdrop.picture.file : null"
      picture
      :disabled="closed"
      called="Picture behind"
      @choose="layPicture"
      @clear="set({ backdrop: { kind: 'plain' } })"
    />
    <div class="logo">
      <span class="name">Logo</span>
      <FilePick
        :chosen="theme.logo?.file ?? null"
        picture
        :disabled="closed"
        called="Logo"
        @choose="set({ logo: markOf($event, theme.logo?.alt ?? '') })"
        @clear="set({ logo: null })"
      />
    </div>
    <div v-if="theme.logo" class="logo">
      <label for="logo-alt" class="name">It says</label>
      <InputText
        id="logo-alt"
        :model-value="theme.logo.alt"
        size="small"
        maxlength="200"
        placeholder="The firm’s name, for who cannot see it"
        fluid
        @update:model-value="set({ logo: { ...theme.logo!, alt: $event ?? '' } })"
      />
    </div>
    <template v-if="'questions' in definition">
      <div class="logo">
        <span class="name">Over it</span>
        <FilePick
          :chosen="theme.header?.file ?? null"
          picture
          :disabled="closed"
          called="Picture over the form"
          @choose="set({ header: markOf($event, theme.header?.alt ?? '') })"
          @clear="set({ header: null })"
        />
      </div>
      <div v-if="theme.header" class="logo">
        <label for="header-alt" class="name">It shows</label>
        <InputText
          id="header-alt"
          :model-value="theme.header.alt"
          size="small"
          maxlength="200"
          placeholder="For who cannot see it; empty if it only decorates"
          fluid
          @update:model-value="set({ header: { ...theme.header!, alt: $event ?? '' } })"
        />
      </div>
    </template>
    <Button v-if="own && !closed" label="Back to the usual look" size="small" variant="text" @click="theme = { ...HOUSE_THEME }" />
  </fieldset>
  <Dialog v-model:visible="keeping" modal header="Keep this look" :style="{ width: 'min(420px, 94vw)' }">
    <form class="keep" @submit.prevent="keep">
      <label for="style-name">What do you call it?</label>
      <InputText id="style-name" v-model="name" autofocus fluid maxlength="60" placeholder="Our site" />
      <p class="brick" role="alert">{{ flaw }}</p>
      <Button type="submit" label="Keep it" :disabled="!name.trim()" />
    </form>
  </Dialog>
</template>

<style scoped>
.styles { margin-bottom: 14px; }
.styles label { font-size: 13px; line-height: 18px; color: var(--faded); }
.row { display: flex; gap: 8px; }
.row .p-button { flex: none; }
.all { padding: 8px 12px; margin-top: 8px; border-left: 3px solid var(--honey-mark); background: var(--sheet); }
.keep { display: grid; gap: 8px; justify-items: start; }
.theme:disabled { opacity: 0.75; }
.theme { margin: 0; padding: 0; border: 0; display: grid; gap: 10px; min-width: 0; justify-items: start; }
.colours { display: grid; grid-template-columns: repeat(3, minmax(0, 1fr)); gap: 10px; width: 100%; }
.colour label { display: block; font-size: 13px; line-height: 18px; color: var(--faded); margin-bottom: 3px; }
.pick { display: flex; gap: 6px; }
.pick input[type=color] { flex: none; width: 34px; height: 32px; padding: 2px; border: 1px solid var(--rule); border-radius: 4px; background: none; cursor: pointer; }
.ratios { list-style: none; margin: 0; padding: 0; font-size: 13px; line-height: 19px; font-variant-numeric: tabular-nums; }
.poor b, .poor .faded { color: var(--brick); }
.shape { display: flex; flex-wrap: wrap; gap: 2px 4px; align-items: center; position: relative; padding-left: 78px; min-height: 30px; }
.shape .name { position: absolute; left: 0; top: 5px; }
.shape .name { width: 74px; font-size: 13px; color: var(--faded); }

.logo { display: flex; gap: 4px; align-items: center; width: 100%; }
.logo .name { flex: none; width: 74px; font-size: 13px; color: var(--faded); }
.shape label { position: relative; padding: 4px 9px; border: 1px solid transparent; border-radius: 4px; cursor: pointer; font-size: 14px; line-height: 20px; }
.shape label:hover { background: var(--wash); }
.shape .on { border-color: var(--spruce); color: var(--spruce); font-weight: 560; }
.shape label:focus-within { outline: 2px solid var(--spruce); outline-offset: 1px; }
</style>

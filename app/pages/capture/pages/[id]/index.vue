<script setup lang="ts">
import { pageChecks, type PageCheck } from '#core/pages/checks'
import { pointsOn, type PageDefinition } from '#core/pages/definition'
import type { PointDefinition } from '#core/points/definition'
import { same } from '#core/points/merge'
import type { PointListing, PointView } from '#core/team'

const route = useRoute()
const session = useSession()
const id = String(route.params.id)
const edit = useEditing<PageDefinition>(id)
const { point, name, definition, state, problem, conflict } = edit
const company = usePresence(id)
const { data: forms } = useLiveQuery(() => api<PointListing[]>('/api/team/points'), { points: true, drafts: true }, 2000)
useHead({ title: () => `${name.value || 'Page'} – Cavlin` })

type FrameKey = 'where' | 'page' | 'thanks'
const hand = ref<FrameKey>('page')
const chosen = ref<string | null>(null)
const panel = ref<'frame' | 'theme'>('frame')
const screens = ref<'desktop' | 'phone' | 'both'>('desktop')
const announce = ref('')
const mayEdit = computed(() => session.may('edit points'))
const { plain, paused } = useSettled(definition)
const { publishing, makeLive, planGoingLive: plan, done } = usePublishing(edit)

const points = computed(() => (forms.value ?? []).map(p => ({ id: p.id, key: p.key, name: p.name, live: p.liveNumber !== null })))
const checks = computed(() =>
  paused.value && forms.value
    ? pageChecks(paused.value, { points: points.value, name: name.value, otherNames: forms.value.map(p => p.name) })
    : [],
)
const stopsLeft = computed(() => checks.value.filter(c => c.level === 'stop').length)
const changed = computed(() => Boolean(point.value?.live && paused.value && !same(point.value.live.definition, paused.value)))
const frames = computed(() =>
  (
    [
      ['where', 'Where it is found'],
      ['page', 'The page'],
      ['thanks', 'Thanks'],
    ] as const
  ).map(([key, title]) => ({ key, title, checks: checks.value.filter(c => (c.frame === 'theme' ? 'page' : c.frame) === key) })),
)

/** The form that stands on the page, as it is live. */
const form = shallowRef<PointDefinition | null>(null)
const formKey = computed(() => (plain.value ? (pointsOn(plain.value)[0] ?? null) : null))
const formId = computed(() => points.value.find(p => p.key === formKey.value)?.id ?? null)
watch(
  [formId, forms],
  async () => {
    if (!formId.value) return void (form.value = null)
    try {
      const view = await api<PointView>(`/api/team/points/${formId.value}`)
      form.value = view.live?.definition ?? view.workingCopy
    } catch {
      form.value = null
    }
  },
  { immediate: true },
)

function take(frame: string): void {
  hand.value = frame as FrameKey
  panel.value = 'frame'
  scrollTo({ top: 0 })
}
function goTo(check: PageCheck): void {
  if (check.frame === 'theme') {
    hand.value = 'page'
    return void (panel.value = 'theme')
  }
  take(check.frame)
  const i = Number(/^blocks\.(\d+)/.exec(check.field)?.[1] ?? -1)
  if (i >= 0) chosen.value = definition.value!.blocks[i]?.key ?? null
}
function mend(check: PageCheck): void {
  edit.replace(check.mend!.apply(JSON.parse(JSON.stringify(definition.value))))
  done(`${check.mend!.name}: done.`)
}
function goBack(earlier: unknown, number: number): void {
  edit.replace(earlier as PageDefinition)
  take('page')
  done(`This is edition ${number} again. Make it live when it is right.`)
}
/** A text that was changed where it stands: `under`, `items.i1.title`, `links.l1.text`. */
function write(key: string, field: string, text: string): void {
  const block = definition.value!.blocks.find(b => b.key === key) as unknown as Record<string, unknown> | undefined
  if (!block) return
  const [list, item, name] = field.split('.')
  if (!name) return void (block[field] = text)
  const found = (block[list!] as { key: string }[] | undefined)?.find(i => i.key === item) as Record<string, unknown> | undefined
  if (found) found[name] = text
}
function move(key: string, to: number): void {
  const { blocks } = definition.value!
  if (!mayEdit.value || to < 0 || to >= blocks.length) return
  const from = blocks.findIndex(b => b.key === key)
  const [block] = blocks.splice(from, 1)
  blocks.splice(to, 0, block!)
  announce.value = `This block is now number ${to + 1} of ${blocks.length}.`
}
function remove(key: string): void {
  definition.value!.blocks = definition.value!.blocks.filter(b => b.key !== key)
  done('The block is out.')
}
const setThanks = (change: Partial<PageDefinition['thanks']>) => {
  definition.value!.thanks = { ...definition.value!.thanks, ...change }
}
const LAYOUTS = [
  { key: 'single', name: 'One below the other' },
  { key: 'beside', name: 'The form beside what stands above it, on wide screens' },
]
useUnsavedGuard(edit, mayEdit)
</script>

<template>
  <p v-if="state === 'missing'" role="alert">{{ problem }} <NuxtLink to="/capture/pages">To the pages</NuxtLink></p>
  <div v-else-if="definition && point && plain" class="editor">
    <StoryboardEditorHead
      v-model:name="name"
      :back="{ path: '/capture/pages', name: 'Pages' }"
      :live="point.live?.number ?? null"
      :changed="changed"
      :state="state"
      :company="company"
      :may-edit="mayEdit"
      others="pages"
      :results="`/capture/pages/${id}/results`"
      :may-undo="edit.mayUndo.value"
      :may-redo="edit.mayRedo.value"
      :may-publish="!stopsLeft && (!point.live || changed)"
      :publishing="publishing"
      :problem="problem"
      :conflict="conflict"
      :going="point.goingLive" :revision="point.revision"
      @undo="edit.undo()" @redo="edit.redo()" @publish="makeLive" @plan="plan" @seen="conflict = ''"
    >
      <a v-if="point.live" :href="`/p/${point.slug}`" target="_blank" rel="noopener">See it live</a>
    </StoryboardEditorHead>
    <p class="unseen" aria-live="polite">{{ announce }}</p>
    <StoryboardFrameStrip v-slot="{ frame }" :frames="frames" :in-hand="hand" @take="take">
      <span v-if="frame === 'where'" class="words"><b>{{ point.live ? 'To be found' : 'Not yet' }}</b><br>/p/{{ point.slug }}</span>
      <PagesPageFrame v-else class="broad" :page="plain" :frame="frame === 'thanks' ? 'thanks' : 'page'" :form="form" later inert />
    </StoryboardFrameStrip>
    <div class="hand">
      <section class="stage" :aria-label="frames.find(f => f.key === hand)!.title">
        <StoryboardWaysOut v-if="hand === 'where'" :point="point" :may-edit="mayEdit" @back="goBack" />
        <template v-else>
          <div class="switch">
            <h2>As visitors see it</h2>
            <div role="group" aria-label="Screens">
              <Button
                v-for="s in (['desktop', 'phone', 'both'] as const)"
                :key="s"
                :label="{ desktop: 'Desktop', phone: 'Phone', both: 'Both' }[s]"
                size="small"
                :variant="screens === s ? 'outlined' : 'text'"
                :aria-pressed="screens === s"
                @click="screens = s"
              />
            </div>
          </div>
          <div class="grounds">
            <div v-if="screens !== 'phone'" class="ground" :class="{ narrow: screens === 'both' }">
              <PagesPageFrame
                class="desk"
                :page="plain"
                :frame="hand"
                :form="form"
                :editable="mayEdit && screens === 'desktop'"
                :chosen="chosen"
                role="group"
                aria-label="Preview"
                @text="write"
                @choose="chosen = $event"
                @move="move"
              />
            </div>
            <div v-if="screens !== 'desktop'" class="ground phone">
              <PagesPageFrame
                :page="plain"
                :frame="hand"
                :form="form"
                :editable="mayEdit && screens === 'phone'"
                :chosen="chosen"
                role="group"
                :aria-label="screens === 'phone' ? 'Preview' : 'Preview on a phone'"
                @text="write"
                @choose="chosen = $event"
                @move="move"
              />
            </div>
          </div>
        </template>
      </section>
      <section class="panel" aria-label="Settings">
        <div v-if="hand !== 'where'" class="tabs" role="group" aria-label="What to set">
          <Button
            :label="hand === 'page' ? 'Blocks' : 'This frame'"
            size="small"
            :variant="panel === 'frame' ? 'outlined' : 'text'"
            :aria-pressed="panel === 'frame'"
            @click="panel = 'frame'"
          />
          <Button
            label="Look"
            size="small"
            :variant="panel === 'theme' ? 'outlined' : 'text'"
            :aria-pressed="panel === 'theme'"
            @click="panel = 'theme'"
          />
        </div>
        <StoryboardCheckList :checks="checks" :may-edit="mayEdit" @go="goTo" @mend="mend" />
        <PagesAddressSettings
          v-if="hand === 'where'"
          :id="id"
          v-model="definition"
          :slug="point.slug"
          :host="point.host"
          :disabled="!mayEdit"
        />
        <template v-else-if="panel === 'theme'">
          <LanguagePick
            :model-value="definition.language"
            :disabled="!mayEdit"
            @update:model-value="definition = { ...definition!, language: $event }"
          />
          <StoryboardThemeSettings
            :model-value="definition"
            :disabled="!mayEdit"
            @update:model-value="definition = { ...definition!, theme: $event.theme, houseStyle: $event.houseStyle }"
          />
        </template>
        <template v-else-if="hand === 'page'">
          <label for="layout" class="label">Order on wide screens</label>
          <Select
            v-model="definition.layout"
            input-id="layout"
            :options="LAYOUTS"
            option-label="name"
            option-value="key"
            fluid
            :disabled="!mayEdit"
            aria-label="Order on wide screens"
            class="layout"
          />
          <PagesBlockList
            v-model="definition.blocks"
            :chosen="chosen"
            :disabled="!mayEdit"
            :checks="checks"
            :points="points"
            @choose="chosen = $event"
            @move="move"
            @remove="remove"
          />
        </template>
        <fieldset v-else class="thanks" :disabled="!mayEdit">
          <legend class="unseen">Thank-you page</legend>
          <label for="t-title" class="label">Title</label>
          <InputText
            id="t-title"
            :model-value="definition.thanks.title"
            fluid
            maxlength="300"
            @update:model-value="setThanks({ title: $event ?? '' })"
          />
          <label for="t-text" class="label">Text</label>
          <Textarea
            id="t-text"
            :model-value="definition.thanks.text"
            rows="4"
            auto-resize
            fluid
            maxlength="8000"
            @update:model-value="setThanks({ text: $event ?? '' })"
          />
          <label for="t-button" class="label">Button, a way on (empty: none)</label>
          <InputText
            id="t-button"
            :model-value="definition.thanks.button"
            fluid
            maxlength="300"
            @update:model-value="setThanks({ button: $event ?? '' })"
          />
          <template v-if="definition.thanks.button">
            <label for="t-address" class="label">It leads to</label>
            <InputText
              id="t-address"
              :model-value="definition.thanks.address"
              fluid
              maxlength="2000"
              placeholder="https://"
              @update:model-value="setThanks({ address: $event ?? '' })"
            />
          </template>
          <p class="small faded">Visitors come here unless the form leads them to another address. A file that the form hands over, or a
            time to choose, is offered here.</p>
        </fieldset>
      </section>
    </div>
  </div>
  <p v-else class="faded">Fetching …</p>
</template>

<style scoped>
.editor { max-width: 1500px; margin: 0 auto; }
.hand { position: relative; z-index: 1; background: var(--paper); display: grid; grid-template-columns: minmax(0, 1fr) minmax(360px, 430px); gap: 26px; align-items: start; padding-top: 14px; }
.stage, .panel { min-width: 0; }
.switch { display: flex; align-items: center; gap: 8px; margin-bottom: 8px; }
.switch h2 { flex: 1; }
.grounds { display: flex; gap: 18px; align-items: flex-start; }
.ground { flex: 1; min-width: 0; border: 1px solid var(--rule); background: #fff; overflow: hidden; }
/* The page at the width of a desktop's, in the room there is. */
.desk { zoom: 0.68; }
.narrow .desk { zoom: 0.42; }
.phone { flex: none; width: 360px; max-width: 100%; margin-inline: auto; border-radius: 14px; }
.tabs { display: flex; gap: 4px; margin-bottom: 8px; }
.label { display: block; font-size: 13px; line-height: 18px; color: var(--faded); margin: 6px 0 3px; }
.layout { margin-bottom: 10px; }
.thanks { margin: 0; padding: 0; border: 0; min-width: 0; }
@media (max-width: 980px) { .hand { grid-template-columns: minmax(0, 1fr); } .grounds { flex-wrap: wrap; } }
</style>

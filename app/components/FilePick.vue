<script setup lang="ts">
import { sizeText, type SentFile } from '#core/files/kinds'
import { assetPath, sizedPath } from '#core/points/next'

/** Chooses a picture or a download: one that is there already, or a new one from this computer. */
export interface Asset {
  id: string
  name: string
  type: string
  size: number
  width: number | null
  height: number | null
}
const props = defineProps<{ chosen: SentFile | null; picture?: boolean; disabled: boolean; called: string }>()
const emit = defineEmits<{ choose: [asset: Asset]; clear: [] }>()
const input = ref<HTMLInputElement>()
const open = ref(false)
const busy = ref(false)
const flaw = ref('')
const there = ref<Asset[]>([])
const offered = computed(() => there.value.filter(a => !props.picture || (a.type.startsWith('image/') && a.width)))

async function show(): Promise<void> {
  flaw.value = ''
  open.value = true
  try {
    there.value = await api<Asset[]>('/api/team/files')
  } catch (error) {
    flaw.value = (error as Error).message
  }
}
async function send(files: FileList | null): Promise<void> {
  const file = files?.[0]
  if (!file) return
  flaw.value = ''
  busy.value = true
  try {
    const body = new FormData()
    body.append('file', file)
    take(await api<Asset>(`/api/team/files${props.picture ? '?kind=picture' : ''}`, { method: 'POST', body }))
  } catch (error) {
    flaw.value = (error as Error).message
  } finally {
    busy.value = false
    if (input.value) input.value.value = ''
  }
}
function take(asset: Asset): void {
  open.value = false
  emit('choose', asset)
}
</script>

<template>
  <div class="file-pick">
    <img v-if="picture && chosen" :src="sizedPath(chosen, 320)" alt="" class="thumb">
    <a v-else-if="chosen" :href="assetPath(chosen)" target="_blank" rel="noopener">{{ chosen.name }}</a>
    <Button
      v-if="!disabled"
      :label="chosen ? 'Choose another' : picture ? 'Choose a picture' : 'Choose a file'"
      :aria-label="`${called}: ${chosen ? 'choose another' : 'choose'}`"
      size="small"
      variant="outlined"
      @click="show"
    />
    <Button
      v-if="!disabled && chosen"
      label="Take it out"
      :aria-label="`${called}: take it out`"
      size="small"
      variant="text"
      severity="secondary"
      @click="emit('clear')"
    />
    <Dialog v-model:visible="open" modal :header="called" :style="{ width: 'min(680px, 94vw)' }">
      <div class="choose" @dragover.prevent @drop.prevent="send($event.dataTransfer?.files ?? null)">
        <p class="new">
          <Button :label="busy ? 'Sending …' : 'From this computer'" :loading="busy" @click="input?.click()" /> <span class="faded small">
            {{ picture ? 'JPEG, PNG, WebP, GIF or AVIF, at most 5 MB. You can drop it here.' : 'At most 20 MB. You can drop it here.' }}
          </span>
        </p>
        <input
          ref="input"
          type="file"
          class="unseen"
          tabindex="-1"
          aria-hidden="true"
          :accept="picture ? 'image/jpeg,image/png,image/webp,image/gif,image/avif' : undefined"
          @change="send(($event.target as HTMLInputElement).files)"
        >
        <p v-if="flaw" class="brick" role="alert">{{ flaw }}</p>
        <ul v-if="offered.length" :class="{ pictures: picture }" aria-label="There already">
          <li v-for="asset in offered" :key="asset.id">
            <button type="button" @click="take(asset)">
              <img v-if="picture" :src="sizedPath(asset, 320)" alt="" loading="lazy">
              <span>{{ asset.name }} <span class="faded small">{{ sizeText(asset.size) }}</span></span>
            </button>
          </li>
        </ul>
        <p v-else class="faded">Nothing is there yet.</p>
      </div>
    </Dialog>
  </div>
</template>

<style scoped>
.file-pick { display: flex; flex-wrap: wrap; gap: 6px 10px; align-items: center; }
.thumb { width: 64px; height: 44px; object-fit: contain; border: 1px solid var(--rule); border-radius: 3px; background: #fff; }
.choose { display: grid; gap: 12px; }
.new { display: flex; flex-wrap: wrap; gap: 6px 12px; align-items: center; }
ul { list-style: none; margin: 0; padding: 0; display: grid; gap: 4px; }
.pictures { grid-template-columns: repeat(auto-fill, minmax(140px, 1fr)); gap: 10px; }
ul button { display: block; width: 100%; padding: 6px; border: 1px solid var(--rule); border-radius: 4px; background: var(--sheet); color: inherit; font: inherit; font-size: 14px; text-align: left; overflow-wrap: anywhere; cursor: pointer; }
ul button:hover { background: var(--wash); }
ul img { display: block; width: 100%; height: 90px; object-fit: contain; margin-bottom: 4px; background: #fff; }
</style>

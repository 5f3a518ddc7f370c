<script setup lang="ts">
import { COLUMNS, COLUMN_WORDS, USUAL_COLUMNS, type ColumnKey } from '#core/follow-up/views'

/** Which columns the table shows, and in which order. */
const columns = defineModel<ColumnKey[]>({ required: true })
const house = useHouse()
const panel = ref<{ toggle: (event: Event) => void }>()
const open = ref(false)
const nameOf = (key: ColumnKey) => COLUMN_WORDS[key as (typeof COLUMNS)[number]] ?? house.propertyName(key.slice(2))
const all = computed<ColumnKey[]>(() => [
  ...COLUMNS,
  ...house
    .words!.properties.filter(p => !p.retired && !['email', 'company', 'first_name', 'last_name'].includes(p.key))
    .map(p => `p.${p.key}` as const),
])
const others = computed(() => all.value.filter(key => !columns.value.includes(key)).map(key => ({ key, name: nameOf(key) })))
const list = ref<HTMLElement>()
function move(at: number, by: number): void {
  const to = at + by
  if (to < 0 || to >= columns.value.length) return
  const next = [...columns.value]
  next.splice(to, 0, ...next.splice(at, 1))
  columns.value = next
  // Whoever moves one goes with it.
  void nextTick(() =>
    list.value
      ?.querySelectorAll<HTMLElement>('li')
      [to]?.querySelector<HTMLElement>(by < 0 ? '.up' : '.down')
      ?.focus(),
  )
}
</script>

<template>
  <span>
    <Button label="Columns …" variant="text" size="small" :aria-expanded="open" @click="panel?.toggle($event)" />
    <Popover ref="panel" aria-label="Columns" @show="open = true" @hide="open = false">
      <section class="columns" aria-label="Columns of the table">
        <ol ref="list">
          <li v-for="(key, n) in columns" :key="key">
            <span>{{ nameOf(key) }}</span>
            <Button
              class="up"
              label="Up"
              size="small"
              variant="text"
              severity="secondary"
              :disabled="n === 0"
              :aria-label="`${nameOf(key)}: further to the left`"
              @click="move(n, -1)"
            />
            <Button
              class="down"
              label="Down"
              size="small"
              variant="text"
              severity="secondary"
              :disabled="n === columns.length - 1"
              :aria-label="`${nameOf(key)}: further to the right`"
              @click="move(n, 1)"
            />
            <Button
              label="Take out"
              size="small"
              variant="text"
              severity="secondary"
              :aria-label="`Take out ${nameOf(key)}`"
              @click="columns = columns.filter(k => k !== key)"
            />
          </li>
        </ol>
        <Select
          :model-value="null"
          :options="others"
          option-label="name"
          option-value="key"
          placeholder="Add a column …"
          aria-label="Add a column"
          size="small"
          filter
          @update:model-value="$event && (columns = [...columns, $event])"
        />
        <Button label="As usual" size="small" variant="text" @click="columns = USUAL_COLUMNS" />
      </section>
    </Popover>
  </span>
</template>

<style scoped>
.columns { width: min(340px, 84vw); display: grid; gap: 8px; }
ol { list-style: none; margin: 0; padding: 0; max-height: 46vh; overflow: auto; }
li { display: flex; align-items: center; gap: 2px; border-bottom: 1px solid var(--rule); } li > span { flex: 1; min-width: 0; overflow-wrap: anywhere; }
</style>

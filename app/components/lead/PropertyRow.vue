<script setup lang="ts">
import type { Property, PropertyValue } from '#core/properties/kinds'

/** Something that is known of a lead, changed where it stands. */
const props = defineProps<{
  property: Property
  value: PropertyValue | null
  text: string
  /** Where it is from, and since when. */ since: string
  disabled: boolean
  /** @returns whether it was kept; what is wrong was said */ keep: (value: string | string[] | null) => Promise<boolean>
}>()
const emit = defineEmits<{ left: [] }>()
const editing = ref(false)
function edit(): void {
  if (!props.disabled && props.property.kind !== 'file') editing.value = true
}
function leave(): void {
  editing.value = false
  emit('left')
}
</script>

<template>
  <div class="row">
    <dt :id="`p-${property.key}`">{{ property.label }}</dt>
    <dd v-if="editing">
      <LeadPropertyForm :property="property" :value="value" :labelledby="`p-${property.key}`" :keep="keep" @left="leave" />
    </dd>
    <dd v-else>
      <button
        v-if="!disabled && property.kind !== 'file'"
        type="button"
        class="value"
        :aria-label="`Change ${property.label}${text ? `: ${text}` : ''}`"
        @click="edit"
      >
        {{ text || 'not known' }}
      </button>
      <slot v-else>{{ text }}</slot>
      <span v-if="since" class="faded small since">{{ since }}</span>
    </dd>
  </div>
</template>

<style scoped>
dt { color: var(--faded); margin-top: 8px; }
dd { margin: 0; white-space: pre-wrap; overflow-wrap: anywhere; max-height: 16rem; overflow: auto; }
.value { all: unset; cursor: text; overflow-wrap: anywhere; } .value:hover { text-decoration: underline dotted; } .value:focus-visible { outline: 2px solid var(--spruce); outline-offset: 2px; }
.since { display: block; }
</style>

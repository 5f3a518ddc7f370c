import type { Attribute } from '~/components/ConditionTree.vue'
import { choicesOf, type PointDefinition } from '#core/points/definition'

/** What conditions of a point's own may ask for: what was answered here, and the lead. */
export function useEntryAttributes(definition: Readonly<Ref<PointDefinition>>) {
  const { leadAttributes, activityAttributes } = useLeadAttributes()
  const attributes = computed<Attribute[]>(() => [
    ...definition.value.questions.map(q => ({ name: `answer.${q.key}`, label: q.label || q.key, kind: q.kind, choices: choicesOf(q) })),
    ...leadAttributes.value,
  ])
  return { attributes, activityAttributes }
}

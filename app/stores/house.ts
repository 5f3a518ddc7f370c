import { defineStore } from 'pinia'
import { useOwnTexts, type OwnTexts } from '#core/languages/own'
import type { PropertyValue } from '#core/properties/kinds'
import { money as inMoney, propertyText } from '#core/properties/text'
import type { LabelRule } from '#core/scoring/scorecard'
import type { Vocabulary } from '#core/vocabulary'
import { dayLength } from '#core/working-time'
import type { Me } from '~/stores/session'

export interface HouseWords extends Vocabulary {
  members: Me[]
  lists: { id: string; name: string; leads: number }[]
  segments: { id: string; name: string }[]
  lanes: { key: string; name: string; people: number }[]
  halfLifeDays: number
  thresholds: LabelRule[]
  texts: OwnTexts
}

/** The words of the house: labels, statuses, properties, colleagues. */
export const useHouse = defineStore('house', () => {
  const words = ref<HouseWords | null>(null)
  const load = async () => {
    words.value = await api<HouseWords>('/api/team/house')
    useOwnTexts(words.value.texts)
  }
  const labelName = (key: string | null) =>
    key === null
      ? 'No label'
      : ((words.value?.labels.find(l => l.key === key) ?? words.value?.joinedLabels?.find(l => l.key === key))?.name ?? key)
  const statusName = (key: string | null) =>
    (words.value?.statuses.find(s => s.key === key) ?? words.value?.joinedStatuses?.find(s => s.key === key))?.name ?? key ?? ''
  const propertyName = (key: string) => words.value?.properties.find(p => p.key === key)?.label ?? key
  const valueText = (key: string, value: PropertyValue) =>
    propertyText(
      words.value?.properties.find(p => p.key === key),
      value,
      words.value?.house.currency ?? 'EUR',
    )
  const memberName = (id: string | null) => words.value?.members.find(m => m.id === id)?.name ?? 'somebody who has left'
  /** An amount in the smallest unit, as people read it. */
  const money = (amount: number) => inMoney(amount, words.value?.house.currency ?? 'EUR')
  const dayHours = computed(() => (words.value ? dayLength(words.value.house.hours) / 60 : 8))
  return { words, load, labelName, statusName, propertyName, valueText, memberName, money, dayHours }
})

import { DateTime } from 'luxon'
import type { Condition } from '#core/conditions/condition'
import type { Counting } from '#core/figures/facets'
import type { Notice, Rules, Step, Tools } from '#core/leads/book'
import { expanded } from '#core/segments/segment'
import { promised } from '#core/follow-up/promise'
import { nameOf } from '#core/leads/lead'
import { AS_IT_COMES, tellAt, type Told } from '#core/telling/telling'
import { worded } from '#core/telling/worded'
import { afterWorking } from '#core/working-time'
import { newId } from '#server/ids'
import { personalAddress, signedAddress } from '#server/signed-addresses'
import type { Ruleset } from '#server/ruleset'
import { ownAddress } from '#server/settings'

/** The rules of a ruleset, as core applies them. */
export const rulesOf = (ruleset: Ruleset): Rules => ({
  scorecard: ruleset.scorecard,
  card: ruleset.card,
  labels: ruleset.labelOrder,
  joinedLabels: new Map((ruleset.joinedLabels ?? []).map(j => [j.key, j.into])),
  lists: new Set(ruleset.lists.map(l => l.id)),
  plan: ruleset.plan,
  members: ruleset.members,
  firstStatus: ruleset.firstStatus,
  wakeStatus: ruleset.wakeStatus,
  stages: ruleset.stages,
  targets: ruleset.targets,
  hours: ruleset.house.hours,
  whole: condition => expanded(condition, ruleset.segments),
})

export const TOOLS: Tools = {
  newId,
  sign: {
    act: signedAddress,
    again: (slug, lead) => (lead === null ? `${ownAddress()}/p/${slug}` : personalAddress(slug, lead)),
  },
}

/** Putting somebody on lists takes knowing on which they are. */
export const ASKS_LISTS: Condition = { attribute: 'list', is: 'filled' }

/** What passages and labels mean for figures. */
export const countingOf = ({ stages, labels }: Ruleset): Counting => ({
  stages,
  qualified: new Set(labels.flatMap(l => (l.qualified ? l.key : []))),
})

/** When and how a member is told something, by what they wish and what the firm insists on. */
export const tellTimes =
  ({ members, house, insists }: Ruleset) =>
  (member: string, topic: Told, at: number) => {
    const who = members.get(member)
    return tellAt(who?.telling ?? AS_IT_COMES, insists, topic, at, who?.hours ?? house.hours)
  }

/** What a member is told, in the house's words where it has some; times as their own clock has them. */
export const wordedBy =
  (ruleset: Ruleset) =>
  (
    { lead }: Step,
    { to, topic = 'given', subject, text }: Pick<Notice, 'to' | 'topic' | 'subject' | 'text'>,
  ): { subject: string; text: string } => {
    const { members, house, labels, statuses, noticeTexts } = ruleset
    const owner = lead.ownerId === null ? undefined : members.get(lead.ownerId)
    const by =
      lead.waitingSince === null
        ? null
        : afterWorking(lead.waitingSince, promised(ruleset, lead.label, lead.lane), owner?.hours ?? house.hours)
    const deadline =
      by === null ? '' : DateTime.fromMillis(by, { zone: members.get(to)?.hours.zone ?? house.zone }).toFormat('ccc d LLL, HH:mm')
    return worded(noticeTexts, topic, {
      subject,
      text,
      deadline,
      lead: {
        name: nameOf(lead),
        first_name: lead.firstName ?? '',
        company: lead.company ?? '',
        label: labels.find(l => l.key === lead.label)?.name ?? '',
        status: statuses.find(s => s.key === lead.status)?.name ?? lead.status,
      },
      owner: owner?.name ?? 'Nobody',
      member: members.get(to)?.name ?? '',
    })
  }

/** The scorecard that leads are judged by, as they name it. */
export const cardOf = ({ card, scorecard }: Ruleset) => ({ number: card, halfLifeDays: scorecard.halfLifeDays })

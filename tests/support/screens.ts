import { ask } from './house'

/** The main screens of the team's side. */
export const SCREENS = [
  '/',
  '/capture',
  '/capture/points',
  '/capture/pages',
  '/capture/notes',
  '/qualify/review',
  '/capture/properties',
  '/capture/live',
  '/capture/appearing',
  '/settings/site',
  '/settings/words',
  '/settings/telling',
  '/qualify',
  '/qualify/proof',
  '/qualify/suggested',
  '/qualify/segments',
  '/route',
  '/route/people',
  '/route/dry-run',
  '/route/hand-on',
  '/?of=team',
  '/follow-up',
  '/follow-up/board',
  '/follow-up/conversations',
  '/follow-up/calendar',
  '/follow-up/texts',
  '/follow-up/statuses',
  '/learn',
  '/learn/conversations',
  '/settings/keys',
  '/settings/colleagues',
  '/settings/deliveries',
  '/settings/deliveries?heap=sent',
]

/** A lead's page. */
export async function aLead(): Promise<string> {
  const { leads } = await ask<{ leads: { id: string }[] }>('/api/v1/leads?label=sales_ready&limit=1')
  return `/follow-up/leads/${leads[0]!.id}`
}

import type { Language } from '#core/languages/language'

/** What the team decided about its site. */
export interface SiteView {
  agreement: 'own' | 'site' | 'not_needed'
  notice: string
  style: string | null
  origins: string[]
  parameters: string[]
  retentionMonths: number
  keepUnfinished: boolean
  mailUnfinished: boolean
  language: Language
}
export const useSite = () => useLiveQuery(() => api<SiteView>('/api/team/site'), { site: true }, 500)

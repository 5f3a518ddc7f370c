interface WeekInfo {
  firstDay: number
}

/** The day on which weeks begin in a country: 0 Sunday to 6 Saturday (CLDR, as the browser has it). */
export function weekStartOf(country: string): number {
  const locale = new Intl.Locale(`en-${country}`) as Intl.Locale & { getWeekInfo?: () => WeekInfo; weekInfo?: WeekInfo }
  return (locale.getWeekInfo?.() ?? locale.weekInfo ?? { firstDay: 1 }).firstDay % 7
}
/** The same where the house is. */
export const useWeekStart = (): number => weekStartOf(useHouse().words?.house.country ?? 'FR')

import fc from 'fast-check'
import ical from 'ical-generator'
import { describe, expect, it } from 'vitest'
import { holidaysIn } from '#server/routing/holidays-file'

const TODAY = '2026-11-29'
const event = (...lines: string[]) => ['BEGIN:VEVENT', `UID:${lines.join()}`, 'DTSTAMP:20260101T000000Z', ...lines, 'END:VEVENT']
const file = (...events: string[][]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//A//B//EN', ...events.flat(), 'END:VCALENDAR'].join('\r\n')
const read = (...events: string[][]) => holidaysIn(file(...events), TODAY)

describe('holidays in an iCalendar file', () => {
  it('are whole days, the end being the first day behind them', () => {
    expect(
      read(
        event('DTSTART;VALUE=DATE:20261225', 'DTEND;VALUE=DATE:20261227', 'SUMMARY:Yule'),
        event('DTSTART;VALUE=DATE:20270101', 'SUMMARY:New\\, year'),
      )!.days,
    ).toEqual([
      { from: '2026-12-25', until: '2026-12-26', name: 'Yule' },
      { from: '2027-01-01', until: '2027-01-01', name: 'New, year' },
    ])
  })
  it('come again each year, as far ahead as is looked, but for what is left out', () => {
    const days = read(event('DTSTART;VALUE=DATE:20200501', 'RRULE:FREQ=YEARLY', 'EXDATE;VALUE=DATE:20280501', 'SUMMARY:May'))!.days
    expect(days.map(d => d.from)).toEqual(['2027-05-01'])
    expect(read(event('DTSTART;VALUE=DATE:20200402', 'RRULE:FREQ=YEARLY;BYMONTH=4;BYDAY=1TH', 'SUMMARY:A'))!.days.map(d => d.from)).toEqual(
      ['2027-04-01', '2028-04-06'],
    )
  })
  it('are not hours, nor what was called off, is long over, or lasts a season', () => {
    const passed = [
      event('DTSTART:20261224T120000Z', 'DTEND:20261224T180000Z'),
      event('DTSTART;VALUE=DATE:20261225', 'STATUS:CANCELLED'),
      event('DTSTART;VALUE=DATE:20200101'),
      event('DTSTART;VALUE=DATE:20270101', 'DTEND;VALUE=DATE:20270601'),
      event('SUMMARY:no day at all'),
    ]
    expect(read(...passed)).toEqual({ days: [], passed: 5 })
  })
  it('are read as another program writes them, and whatever else comes is refused without an error', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 700 }), fc.integer({ min: 1, max: 20 }), (from, length) => {
        const start = new Date(Date.parse(TODAY) + from * 86_400_000)
        const calendar = ical({
          events: [{ start, end: new Date(start.getTime() + length * 86_400_000), allDay: true, timezone: 'UTC', summary: 'Closed' }],
        })
        expect(holidaysIn(calendar.toString(), TODAY)!.days).toEqual([
          {
            from: start.toISOString().slice(0, 10),
            until: new Date(start.getTime() + (length - 1) * 86_400_000).toISOString().slice(0, 10),
            name: 'Closed',
          },
        ])
      }),
    )
    fc.assert(
      fc.property(
        fc.string(),
        fc.array(
          fc.constantFrom(
            'BEGIN:VCALENDAR',
            'END:VCALENDAR',
            'BEGIN:VEVENT',
            'END:VEVENT',
            'DTSTART;VALUE=DATE:20270101',
            'RRULE:FREQ=NONSENSE',
            'DTSTART:x',
            ':',
          ),
        ),
        (text, lines) => {
          holidaysIn(text, TODAY)
          holidaysIn(lines.join('\r\n'), TODAY)
        },
      ),
    )
  })
})

/** Something that is due on a day. */
export interface Due {
  readonly id: string
  /** yyyy-mm-dd */
  readonly on: string
  readonly summary: string
  readonly description?: string
}

/** Commas, semicolons, backslashes and line ends as a calendar holds them (RFC 5545, 3.3.11). */
const escaped = (s: string): string => s.replace(/([\\;,])/g, '\\$1').replace(/\r?\n/g, '\\n')

/** Lines of at most 75 octets, the rest behind a space (RFC 5545, 3.1); a letter is never cut. */
function folded(line: string): string {
  const out: string[] = []
  let [now, size] = ['', 0]
  for (const letter of line) {
    const bytes = letter.codePointAt(0)! < 0x80 ? 1 : letter.codePointAt(0)! < 0x800 ? 2 : letter.length === 1 ? 3 : 4
    if (size + bytes > 75) {
      out.push(now)
      ;[now, size] = [' ', 1]
    }
    now += letter
    size += bytes
  }
  return [...out, now].join('\r\n')
}

const nextDay = (day: string): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) + 86_400_000).toISOString().slice(0, 10)
const plain = (day: string): string => day.replace(/-/g, '')

/**
 * Days on which something is due, as iCalendar. @param stamp - when it is made, ISO 8601
 */
export function calendarOf(dues: readonly Due[], stamp: string): string {
  const made = `${stamp.slice(0, 19).replace(/[-:]/g, '')}Z`
  const lines = [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//Uvula//due dates//EN',
    ...dues.flatMap((d) => [
      'BEGIN:VEVENT',
      `UID:${escaped(d.id)}@uvula`,
      `DTSTAMP:${made}`,
      `DTSTART;VALUE=DATE:${plain(d.on)}`,
      `DTEND;VALUE=DATE:${plain(nextDay(d.on))}`,
      `SUMMARY:${escaped(d.summary)}`,
      ...(d.description ? [`DESCRIPTION:${escaped(d.description)}`] : []),
      'TRANSP:TRANSPARENT',
      'END:VEVENT',
    ]),
    'END:VCALENDAR',
  ]
  return `${lines.map(folded).join('\r\n')}\r\n`
}

/** A cell of a table that a spreadsheet shows and never runs: what begins like a formula is quoted. */
export function csvCell(x: string | number | undefined): string {
  if (x === undefined) return ''
  if (typeof x === 'number') return Number.isFinite(x) ? String(x) : ''
  const safe = /^[=+\-@\t\r]/.test(x) ? `'${x}` : x
  return /[",\r\n]/.test(safe) ? `"${safe.replace(/"/g, '""')}"` : safe
}

/** What the hand does now, in one word. */
export const FEED_WORDS: Readonly<Record<string, string>> = {
  'count-in': 'hand on the valve',
  shot: 'OPEN',
  pause: 'shut',
  held: 'held',
}

/** What a wait of the work after is called on its timer. */
export const TIMER_WORDS: Readonly<Record<string, string>> = {
  'key-on': 'key on, feet off',
  crank: 'the starter rests',
  'first-minute': 'first minute',
}

// A log as large as a day of driving makes it, for the benches.

const BYTES = 28e6

/** An idle of 28 MB, twenty rows a second. */
export function longLog(): Buffer {
  const rows = ['time_s,rpm,load_pct,ect_c,iat_c,map_kpa,maf_gs,throttle_pct,stft1_pct,ltft1_pct,speed_kph']
  for (let i = 0, bytes = 0; bytes < BYTES; i++) {
    const hunt = Math.sin(i / 20)
    const row = [
      ...[(i / 20).toFixed(2), (702 + 3 * hunt).toFixed(0), (25.5 + hunt / 2).toFixed(1), 88, 24],
      ...[(33.5 + hunt / 2).toFixed(1), (2.85 + hunt / 20).toFixed(2), (12.1 + hunt / 10).toFixed(1)],
      ...[(1 + hunt).toFixed(1), 3.1, 0],
    ].join()
    rows.push(row)
    bytes += row.length + 1
  }
  return Buffer.from(rows.join('\n'))
}

import { constants, inflateSync } from 'node:zlib'

/** The stream of an object, unpacked; empty where it has none or is packed in another way. */
function streamOf(object: string): string {
  const m = /stream\r?\n([\s\S]*?)\r?\nendstream/.exec(object)
  if (!m) return ''
  try {
    // its last byte may be a line end, which is then taken for the one that follows it
    return inflateSync(Buffer.from(m[1], 'latin1'), { finishFlush: constants.Z_SYNC_FLUSH }).toString('latin1')
  } catch {
    return ''
  }
}

/** Which letters the glyphs of a font stand for, by its own table. */
function lettersOf(table: string): Map<number, string> {
  const letters = new Map<number, string>()
  const chars = (hex: string): string =>
    (hex.match(/.{4}/g) ?? []).map((h) => String.fromCharCode(parseInt(h, 16))).join('')
  for (const [, from, , list] of table.matchAll(/<([0-9a-f]+)>\s*<([0-9a-f]+)>\s*\[([^\]]*)\]/gi))
    // a ligature stands for several, with a space between
    [...list.matchAll(/<([0-9a-f ]+)>/gi)].forEach((m, i) =>
      letters.set(parseInt(from, 16) + i, chars(m[1].replace(/ /g, ''))),
    )
  return letters
}

/** What a PDF of ours says, page by page, without white space: as it would be copied out of a reader. */
export function pdfText(pdf: Buffer): string[] {
  const objects = new Map<string, string>()
  for (const m of pdf.toString('latin1').matchAll(/(\d+) 0 obj\r?\n([\s\S]*?)\r?\nendobj/g)) objects.set(m[1], m[2])
  const fonts = new Map<string, Map<number, string>>()
  for (const body of objects.values())
    for (const [, name, id] of body.matchAll(/\/(F\d+) (\d+) 0 R/g)) {
      const table = /\/ToUnicode (\d+) 0 R/.exec(objects.get(id) ?? '')?.[1]
      if (table) fonts.set(name, lettersOf(streamOf(objects.get(table) ?? '')))
    }
  const pages = [...objects.values()].filter((o) => /\/Type \/Page\b/.test(o))
  return pages.map((page) => {
    const content = streamOf(objects.get(/\/Contents (\d+) 0 R/.exec(page)?.[1] ?? '') ?? '')
    let font = new Map<number, string>()
    let out = ''
    for (const m of content.matchAll(/\/(F\d+) [\d.]+ Tf|\[([^\]]*)\] TJ|<([0-9a-f]+)> Tj/g)) {
      if (m[1]) font = fonts.get(m[1]) ?? new Map()
      const hex = m[2] !== undefined ? [...m[2].matchAll(/<([0-9a-f]+)>/gi)].map((h) => h[1]).join('') : (m[3] ?? '')
      for (const g of hex.match(/.{4}/g) ?? []) out += font.get(parseInt(g, 16)) ?? ''
    }
    return out.replace(/\s/g, '')
  })
}

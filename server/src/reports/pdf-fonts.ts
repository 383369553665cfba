import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import type { Content } from 'pdfmake/interfaces.js'

const require = createRequire(import.meta.url)
const barlow = dirname(require.resolve('@fontsource/barlow-semi-condensed/package.json'))
const roboto = join(dirname(require.resolve('pdfmake/package.json')), 'fonts/Roboto')

const face = (set: string, weight: number): string =>
  join(barlow, 'files', `barlow-semi-condensed-${set}-${weight}-normal.woff`)
const family = (regular: string, bold: string): Record<'normal' | 'bold' | 'italics' | 'bolditalics', string> => ({
  normal: regular,
  bold,
  italics: regular,
  bolditalics: bold,
})

/** Folders that a PDF's fonts come from; nothing else is opened for one. */
export const FONT_FOLDERS = [barlow, roboto] as const

/**
 * Fonts of a PDF. The house's own face comes in pieces by letters; signs and alphabets that it was not drawn for (≥, λ,
 * Cyrillic names) are set in the one that comes with the PDF writer.
 */
export const PDF_FONTS = {
  Barlow: family(face('latin', 400), face('latin', 600)),
  BarlowExt: family(face('latin-ext', 400), face('latin-ext', 600)),
  Roboto: family(join(roboto, 'Roboto-Regular.ttf'), join(roboto, 'Roboto-Medium.ttf')),
} as const
type FontName = keyof typeof PDF_FONTS

/** Code points that a piece of the face holds, as its maker lists them: "U+0000-00FF,U+0131". */
function covers(ranges: string): (codePoint: number) => boolean {
  const list = ranges.split(',').map((r) => {
    const [from, to = from] = r.trim().slice(2).split('-')
    return [parseInt(from, 16), parseInt(to, 16)] as const
  })
  return (c) => list.some(([from, to]) => c >= from && c <= to)
}

const pieces = JSON.parse(readFileSync(join(barlow, 'unicode.json'), 'utf8')) as Record<string, string>
const inLatin = covers(pieces['latin'])
const inLatinExt = covers(pieces['latin-ext'])

const fontOf = (c: number): FontName => (inLatin(c) ? 'Barlow' : inLatinExt(c) ? 'BarlowExt' : 'Roboto')

/** A text as runs, each in a font that has its letters; accents that stand apart are joined to their letters first. */
export function fontRuns(text: string): { readonly text: string; readonly font: FontName }[] {
  const runs: { text: string; font: FontName }[] = []
  for (const letter of text.normalize('NFC')) {
    const font = fontOf(letter.codePointAt(0)!)
    const last = runs.at(-1)
    if (last?.font === font) last.text += letter
    else runs.push({ text: letter, font })
  }
  return runs
}

/** The same content with every text set in runs. */
export function inFonts<T extends Content>(content: T): T {
  if (typeof content === 'string') return { text: fontRuns(content) } as unknown as T
  if (Array.isArray(content)) return content.map((x) => inFonts(x as Content)) as unknown as T
  if (typeof content !== 'object' || content === null) return content
  return Object.fromEntries(
    Object.entries(content).map(([k, x]) => {
      if (k === 'text') return [k, typeof x === 'string' ? fontRuns(x) : inFonts(x as Content)]
      return [k, HOLDS_CONTENT.has(k) ? inFonts(x as Content) : x]
    }),
  ) as T
}

/** Names under which content holds more content. */
const HOLDS_CONTENT = new Set(['stack', 'columns', 'table', 'body', 'ul', 'ol'])

/** Room for the channel's name left of each chart [CSS px]. */
const NAME_PX = 150
const HEAD_PX = 40

/** A stack of charts as one PNG, on the ground that is shown, names beside. */
export function chartPicture(stack: HTMLElement, title: string): Promise<Blob | null> {
  const style = getComputedStyle(document.documentElement)
  const [face, ink] = ['--color-face', '--color-ink'].map((name) => style.getPropertyValue(name))
  const rows = [...stack.querySelectorAll<HTMLElement>('.trace-row')]
  const canvases = rows.map((row) => row.querySelector('canvas')!)
  const scale = devicePixelRatio
  const out = document.createElement('canvas')
  out.width = NAME_PX * scale + Math.max(...canvases.map((c) => c.width))
  out.height = HEAD_PX * scale + canvases.reduce((sum, c) => sum + c.height, 0)
  const ctx = out.getContext('2d')!
  ctx.fillStyle = face
  ctx.fillRect(0, 0, out.width, out.height)
  ctx.fillStyle = ink
  ctx.font = `600 ${20 * scale}px 'Barlow Semi Condensed'`
  ctx.fillText(title, 12 * scale, 27 * scale)
  ctx.font = `500 ${17 * scale}px 'Barlow Semi Condensed'`
  let y = HEAD_PX * scale
  rows.forEach((row, i) => {
    const [name, unit] = [...row.querySelector('p')!.childNodes].map((n) => n.textContent ?? '').filter(Boolean)
    ctx.fillText([name, unit].filter(Boolean).join(', '), 12 * scale, y + canvases[i].height / 2)
    ctx.drawImage(canvases[i], NAME_PX * scale, y)
    y += canvases[i].height
  })
  return new Promise((resolve) => out.toBlob(resolve, 'image/png'))
}

/** Hands a file to the browser's downloads. */
export function saveFile(blob: Blob, name: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(blob)
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}

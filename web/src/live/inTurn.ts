/** Charts that are drawn anew in one animation frame at most: all of them at once would hold the page up. */
const A_FRAME = 3

const waiting = new Map<object, () => void>()
let asked = false

function drawSome(): void {
  asked = false
  for (const [key, draw] of [...waiting].slice(0, A_FRAME)) {
    waiting.delete(key)
    draw()
  }
  if (waiting.size) ask()
}

function ask(): void {
  if (asked) return
  asked = true
  requestAnimationFrame(drawSome)
}

/**
 * Draws when its turn has come, the newest drawing of each key only. Returns what takes it back.
 * @param key - what is drawn; a later drawing of it takes the place of one that still waits
 */
export function inTurn(key: object, draw: () => void): () => void {
  waiting.set(key, draw)
  ask()
  return () => {
    if (waiting.get(key) === draw) waiting.delete(key)
  }
}

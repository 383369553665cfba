let context: AudioContext | undefined

/** A short tone; a browser without sound stays silent. @param hz - pitch */
export function beep(hz: number): void {
  try {
    context ??= new AudioContext()
    const tone = context.createOscillator()
    const gain = context.createGain()
    tone.frequency.value = hz
    gain.gain.setValueAtTime(0.25, context.currentTime)
    gain.gain.exponentialRampToValueAtTime(0.001, context.currentTime + 0.18)
    tone.connect(gain).connect(context.destination)
    tone.start()
    tone.stop(context.currentTime + 0.2)
  } catch {
    // no sound device: the screen says the same
  }
}

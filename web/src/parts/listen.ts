/** A stretch of sound. */
export interface Heard {
  readonly signal: Float64Array
  readonly sampleHz: number
}

/** Coding without loss where the browser has one: low notes survive it. */
const CODINGS = ['audio/webm;codecs=pcm', 'audio/webm;codecs=opus', 'audio/mp4']

/**
 * Listens through the device's own microphone. Nothing is kept or sent: the sound is worked on here and forgotten.
 * @param onSecond - told of the seconds that are left
 * @throws Error with a sentence for the technician
 */
export async function listen(seconds: number, onSecond: (left: number) => void): Promise<Heard> {
  // without a secure connection a browser hides its microphone
  const devices = navigator.mediaDevices as MediaDevices | undefined
  if (!devices)
    throw new Error(
      'This browser gives no microphone on an open connection: use the shop’s tablet at its own address, or a WAV file.',
    )
  let stream: MediaStream
  try {
    // what makes speech clear takes an engine away
    stream = await devices.getUserMedia({
      audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false },
    })
  } catch {
    throw new Error('The microphone may not be used: allow it for this page, or take a WAV file.')
  }
  try {
    const bytes = await recorded(stream, seconds, onSecond)
    const context = new AudioContext()
    try {
      const sound = await context.decodeAudioData(await bytes.arrayBuffer())
      return { signal: Float64Array.from(sound.getChannelData(0)), sampleHz: sound.sampleRate }
    } finally {
      void context.close()
    }
  } finally {
    for (const track of stream.getTracks()) track.stop()
  }
}

function recorded(stream: MediaStream, seconds: number, onSecond: (left: number) => void): Promise<Blob> {
  return new Promise((resolve, reject) => {
    const mimeType = CODINGS.find((c) => MediaRecorder.isTypeSupported(c))
    const recorder = new MediaRecorder(stream, { mimeType, audioBitsPerSecond: 256_000 })
    const parts: Blob[] = []
    let left = seconds
    onSecond(left)
    const ticking = setInterval(() => {
      left--
      onSecond(left)
      if (left <= 0) recorder.stop()
    }, 1000)
    recorder.ondataavailable = (e) => parts.push(e.data)
    recorder.onerror = () => {
      clearInterval(ticking)
      reject(new Error('The microphone stopped by itself: try again.'))
    }
    recorder.onstop = () => {
      clearInterval(ticking)
      resolve(new Blob(parts, { type: mimeType }))
    }
    recorder.start()
  })
}

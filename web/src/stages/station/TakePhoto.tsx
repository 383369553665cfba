import { Camera } from 'lucide-react'
import { useRef, useState } from 'react'

/** Longest edge of a kept photo [px]: plenty to see a crack, small enough for a poor link. */
const PHOTO_EDGE = 1600

/** A photo taken or chosen: turned upright, made small, its place left out, since it is drawn anew. */
export function TakePhoto({ onTake }: { onTake: (mime: string, base64: string) => void }) {
  const input = useRef<HTMLInputElement>(null)
  const [problem, setProblem] = useState<string>()
  const take = async (f: File | undefined): Promise<void> => {
    if (!f) return
    try {
      const picture = await createImageBitmap(f)
      const k = Math.min(1, PHOTO_EDGE / Math.max(picture.width, picture.height))
      const canvas = document.createElement('canvas')
      canvas.width = Math.round(picture.width * k)
      canvas.height = Math.round(picture.height * k)
      canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
      onTake('image/jpeg', canvas.toDataURL('image/jpeg', 0.85).split(',')[1])
      setProblem(undefined)
    } catch {
      setProblem(`${f.name} is not a picture that can be shown.`)
    }
  }
  return (
    <>
      <button type="button" className="act" onClick={() => input.current?.click()}>
        <Camera size={22} aria-hidden /> photo
      </button>
      <input
        ref={input}
        type="file"
        accept="image/*"
        capture="environment"
        hidden
        data-testid="photo-input"
        onChange={(e) => void take(e.target.files?.[0])}
      />
      {problem && <p className="wrong text-small">{problem}</p>}
    </>
  )
}

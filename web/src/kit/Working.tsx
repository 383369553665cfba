import { Progress } from 'radix-ui'

/** Something that takes time: a line that moves, or one that fills when its share is known. */
export function Working({ label, share, className = '' }: { label: string; share?: number; className?: string }) {
  const percent = share === undefined ? null : Math.round(100 * share)
  return (
    <Progress.Root
      value={percent}
      aria-label={label}
      className={percent === null ? `progress ${className}` : `relative h-8 border-2 border-ink ${className}`}
    >
      {percent !== null && <Progress.Indicator className="h-full bg-ink" style={{ width: `${percent}%` }} />}
    </Progress.Root>
  )
}

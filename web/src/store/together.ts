import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import type { Hand } from '@uvula/contract'
import { newId } from './database.js'
import { outbox } from './outbox.js'
import { technician } from './settings.js'

const KEY = 'uvula-device'

/** This browser's own name for itself. */
function device(): string {
  try {
    const known = localStorage.getItem(KEY) ?? newId()
    localStorage.setItem(KEY, known)
    return known
  } catch {
    return newId()
  }
}

/** Writes that come together are asked for once [ms]. */
const GATHER_MS = 120

/** Says where this page is now. */
const tellStage = (visitId: string, id: string, stage: string): Promise<unknown> =>
  fetch(`/api/visits/${encodeURIComponent(visitId)}/together`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ device: id, by: technician(), stage }),
  }).catch(() => undefined)

/**
 * Who else is on a visit; what they write is asked for at once. The line is held while the page is looked at: a browser has few
 * of them, and a page in the background asks again when it comes back.
 */
export function useTogether(visitId: string, stage: string): readonly Hand[] {
  const client = useQueryClient()
  const [hands, setHands] = useState<readonly Hand[]>([])
  const [me] = useState(device)
  const standsAt = useRef(stage)
  useEffect(() => {
    let line: EventSource | undefined
    let timer: ReturnType<typeof setTimeout> | undefined
    const ask = (): void => {
      clearTimeout(timer)
      timer = setTimeout(() => void client.invalidateQueries({ queryKey: ['visit', visitId] }), GATHER_MS)
    }
    const close = (): void => {
      line?.close()
      line = undefined
      setHands([])
    }
    const open = (): void => {
      if (line || document.visibilityState === 'hidden' || !('EventSource' in window)) return
      const who = new URLSearchParams({ device: me, by: technician(), stage: standsAt.current })
      line = new EventSource(`/api/visits/${encodeURIComponent(visitId)}/together?${who.toString()}`)
      let lost = false
      line.onerror = () => {
        lost = true
        setHands([])
      }
      line.onopen = () => {
        if (!lost) return
        lost = false
        // neither what was written nor where one went while the line was down was told
        ask()
        void tellStage(visitId, me, standsAt.current)
      }
      line.addEventListener('hands', (e: MessageEvent<string>) =>
        setHands((JSON.parse(e.data) as Hand[]).filter((h) => h.device !== me)),
      )
      line.addEventListener('change', (e: MessageEvent<string>) => {
        if (!outbox.sentHere((JSON.parse(e.data) as { key: string }).key)) ask()
      })
    }
    const look = (): void => {
      if (document.visibilityState === 'hidden') return close()
      open()
      ask()
    }
    open()
    document.addEventListener('visibilitychange', look)
    return () => {
      document.removeEventListener('visibilitychange', look)
      clearTimeout(timer)
      close()
    }
  }, [client, visitId, me])
  useEffect(() => {
    if (standsAt.current === stage) return
    standsAt.current = stage
    void tellStage(visitId, me, stage)
  }, [visitId, me, stage])
  return hands
}

import { useState } from 'react'
import type { FindingRecord, VisitFile } from '@uvula/core'
import { ownFields, useWriter } from '../../store/visit.js'

/** What was seen, in the technician's words; kept as soon as the field is left. */
export function LookNote({ file, finding }: { file: VisitFile; finding: FindingRecord }) {
  const { write } = useWriter(file)
  const [draft, setDraft] = useState<string>()
  const save = (): void => {
    if (draft === undefined || draft.trim() === (finding.note ?? '')) return setDraft(undefined)
    const { note: _, ...rest } = ownFields(finding)
    write('findings', finding.id, draft.trim() ? { ...rest, note: draft.trim() } : rest)
    setDraft(undefined)
  }
  return (
    <input
      className="field col-span-full text-small"
      aria-label="what was seen"
      placeholder="what was seen, what is missing"
      value={draft ?? finding.note ?? ''}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={save}
      onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
    />
  )
}

import { createContext, useContext, type ReactNode } from 'react'
import { useDropzone } from 'react-dropzone'
import type { VisitFile } from '@uvula/core'
import { Said } from '../kit/Said.js'
import { Working } from '../kit/Working.js'
import { ColumnsDialog } from './ColumnsDialog.js'
import { useDroppedFiles } from './useDroppedFiles.js'
import { WhichSide } from './WhichSide.js'

interface Drop {
  /** Opens the device's own choice of files. */
  readonly choose: () => void
}

const DropContext = createContext<Drop | undefined>(undefined)

/** A whole visit takes a dropped recording, wherever it falls. */
export function DropArea({ file, round, children }: { file: VisitFile; round: number; children: ReactNode }) {
  const dropped = useDroppedFiles(file, round)
  const { read, reading, message, side, asking } = dropped
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => files.forEach((f) => void read(f)),
    // the whole visit is the place to drop on: a tap and the keys stay what they are
    noClick: true,
    noKeyboard: true,
  })
  return (
    <DropContext.Provider value={{ choose: open }}>
      <div
        {...getRootProps({
          className: 'drop-area h-full print:block print:h-auto',
          role: undefined,
          tabIndex: undefined,
        })}
      >
        <input
          {...getInputProps({ accept: '.csv,.tsv,.txt,.log,text/csv', hidden: true, style: undefined })}
          aria-label="recordings"
          data-testid="recording-input"
        />
        {children}
        {(message ?? reading) && (
          <Said>
            {reading ? (
              <>
                <p>
                  Reading {reading.name}
                  {reading.share > 0 && `, ${Math.round(100 * reading.share)} %`}
                </p>
                <Working label={`reading ${reading.name}`} />
                <button type="button" className="act" onClick={dropped.stop}>
                  stop
                </button>
              </>
            ) : (
              <>
                <p>{message}</p>
                <button type="button" className="act" onClick={dropped.closeMessage}>
                  close
                </button>
              </>
            )}
          </Said>
        )}
        {side && (
          <WhichSide
            file={file}
            round={round}
            name={side.name}
            onSide={(into) => {
              side.keep(into)
              dropped.sideDone()
            }}
            onClose={dropped.sideDone}
          />
        )}
        {asking && (
          <ColumnsDialog
            key={asking.file.name + asking.why}
            name={asking.file.name}
            why={asking.why}
            columns={asking.columns}
            onRead={(m) => void read(asking.file, m)}
            onClose={dropped.askingDone}
          />
        )}
        {isDragActive && (
          <div className="name inset-0 border-6 border-ink border-dashed fixed z-20 grid place-items-center bg-[color-mix(in_srgb,var(--color-face)_85%,transparent)] pointer-events-none">
            Drop the recording anywhere
          </div>
        )}
      </div>
    </DropContext.Provider>
  )
}

/** The button for those who do not drag. */
export function FileDrop() {
  const drop = useContext(DropContext)
  return (
    <button type="button" className="act justify-center" onClick={() => drop?.choose()}>
      take a recording
    </button>
  )
}

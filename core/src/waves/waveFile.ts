import * as wavefile from 'wavefile'

/** The package's one class: Node sees it behind a default export, a bundler by its name. */
export const WaveFile = wavefile.WaveFile ?? (wavefile as unknown as { default: typeof wavefile }).default.WaveFile

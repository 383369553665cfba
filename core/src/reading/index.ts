export { readRecording, type ReadOptions } from './readRecording.js'
export { columnsToAsk, sniff, type ColumnGuess, type Layout, type Mapping } from './sniff.js'
export { LABELS } from './labels.js'
export { matchesOf, type LabelMatch } from './labelMatch.js'

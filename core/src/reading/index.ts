export { readRecording, type ReadOptions } from './readRecording.js'
export { columnsToAsk, sniff, type ColumnGuess, type Layout, type Mapping } from './sniff.js'
export { LABELS, matchesOf, type LabelMatch } from './labels.js'

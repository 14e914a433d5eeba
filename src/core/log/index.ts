export { actWords, cueName } from './actWords';
export { logAsCsv, logAsJsonLines, summaryOf, type NightSummary } from './files';
export { LINE_KINDS, type LineKind, type LogLine } from './line';
export { NightLog, type NightFault } from './nightLog';

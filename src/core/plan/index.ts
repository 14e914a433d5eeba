export { BARS_KEPT, type Stood } from './barMemory';
export { Conductor, type HopSource, type PlanMap } from './conductor';
export { filmKey, frameNumbers } from './frameNumbers';
export { inputSignal, memberSignal, routeSignal, tempoSignal } from './names';
export { amountLoop } from './routeBoard';
export { COLUMN_SECONDS, columnOfTick, TICKS_PER_COLUMN, TRACE_COLUMNS, Traces } from './traces';

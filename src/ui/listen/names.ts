import type { Ear } from '../../core/show/types';
import { gainToDb } from '../../core/units';

function hz(x: number): string {
  return x >= 1000 ? `${(x / 1000).toFixed(x >= 10000 ? 0 : 1).replace(/\.0$/, '')} k` : String(Math.round(x));
}

/** A range as it is read: "40–110 Hz", "3.2–12 kHz". */
export function rangeName(low: number, high: number): string {
  if (low >= 1000) return `${(low / 1000).toFixed(1).replace(/\.0$/, '')}–${(high / 1000).toFixed(1).replace(/\.0$/, '')} kHz`;
  return `${hz(low)}–${hz(high)}${high >= 1000 ? '' : ' '}Hz`;
}

/** What an ear listens for, in words. */
export function listeningWords({ listening }: Ear): string {
  switch (listening.kind) {
    case 'level': return listening.reading === 'rms' ? 'level, RMS' : 'level, peak';
    case 'band': return `level of ${rangeName(listening.low, listening.high)}`;
    case 'hit': return `hits in ${rangeName(listening.low, listening.high)}`;
  }
}

/** A signal's present number in its own unit. */
export function signalText(ear: Ear, value: number): string {
  if (!Number.isFinite(value)) return '–';
  return ear.listening.kind === 'hit' ? value.toFixed(2) : value < 0.0005 ? '0.000' : value < 0.1 ? value.toFixed(3) : value.toFixed(2);
}
export function dbText(value: number): string {
  return value > 0 ? `${gainToDb(value).toFixed(1).replace('-', '−')} dBFS` : 'silent';
}

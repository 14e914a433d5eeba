import { gainToDb, SILENCE_DB } from '../../core/units';

/** A level in dB of full scale, as it is written everywhere; silence in a word. */
export function dbfsText(db: number): string {
  return db > SILENCE_DB ? `${db.toFixed(1).replace('-', '−')} dBFS` : 'silent';
}
/** The same of an amplitude, 1 is full scale; NaN is silence. */
export function dbText(amplitude: number): string {
  return dbfsText(gainToDb(amplitude));
}

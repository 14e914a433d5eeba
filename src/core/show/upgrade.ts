import { SHOW_FORMAT, SHOW_VERSION } from './types';

/** The file cannot be brought to today's form; the message is for people. */
export class UpgradeError extends Error {
  override readonly name = 'UpgradeError';
}

type Document = Record<string, unknown>;
/** Takes a document from version `from` to `from + 1`. Pure, frozen once shipped, and ignorant of today's types. */
export interface Upgrade { readonly from: number; readonly name: string; readonly run: (document: Document) => Document }

/** In order. The first show file was version 1, so there is none yet; each that comes has a saved old file as its test. */
export const UPGRADES: readonly Upgrade[] = [];

/**
 * Brings a document of an older version to today's.
 * @throws UpgradeError when it is not a show at all, or made by a newer Batucada
 */
export function upgrade(raw: unknown, upgrades: readonly Upgrade[] = UPGRADES, today: number = SHOW_VERSION): Document {
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw)) throw new UpgradeError('This is not a Batucada show.');
  let document = raw as Document;
  if (document.format !== SHOW_FORMAT) throw new UpgradeError('This is not a Batucada show.');
  const version = document.version;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) throw new UpgradeError('This show does not say which version it is.');
  if (version > today) throw new UpgradeError(`This show was made by a newer Batucada (form ${version}; this one reads up to ${today}). Update Batucada, then open it again.`);
  for (let at = version; at < today; at++) {
    const step = upgrades.find((u) => u.from === at);
    if (!step) throw new UpgradeError(`This show is of form ${at}, which can no longer be read.`);
    document = { ...step.run(document), version: at + 1 };
  }
  return document;
}

import { latestOf, type Performed } from '../../core/acts';
import { NightLog, type LogLine } from '../../core/log';
import { tempoSignal } from '../../core/plan';
import { gainToDb } from '../../core/units';
import { dropOldNights, keepLines } from '../../data/logStore';
import { signsOf } from '../frame/signsOf';
import { live } from '../live/live';
import { loudestOfLate } from '../live/loudest';
import { type Session, useSession, whenPerformed } from './session';

/** How often acts and faults are written down, and how often levels and tempo. */
const WRITE_MS = 1000,
  LEVEL_MS = 12000;
/** Should the store take nothing, so many lines wait for it. */
const WAIT_MOST = 20000;

/** Writes down what happens for as long as this window has the show. @returns what ends it */
export function startNightLog(): () => void {
  let waiting: LogLine[] = [],
    performed: Performed[] = [],
    writing = false,
    levelsAt = performance.now(),
    showId = '';
  const log = new NightLog((line) => {
    if (waiting.length < WAIT_MOST) waiting.push(line);
  });
  const write = async (): Promise<void> => {
    if (writing || waiting.length === 0) return;
    writing = true;
    const lines = waiting;
    waiting = [];
    try {
      await keepLines(lines);
    } catch {
      // The store is full, which its own sign says: they wait, and are kept once there is room.
      waiting = [...lines, ...waiting].slice(0, WAIT_MOST);
    }
    writing = false;
  };
  /** What was done, and what came of it: in this order. */
  const tell = ({ history: { show }, stage }: Session): void => {
    if (performed.length > 0) log.acts(show, performed);
    performed = [];
    log.stage(show, stage, Date.now());
  };
  const look = (): void => {
    const s = useSession.getState(),
      { show } = s.history,
      now = Date.now();
    if (s.phase !== 'running') return;
    if (show.id !== showId) {
      showId = show.id;
      log.show(show.name, s.stage, now);
    }
    tell(s);
    log.faults(
      signsOf(s).flatMap(({ name, fault, mind }) => {
        const what = fault ?? mind;
        return what ? [{ who: name, what }] : [];
      }),
      now,
    );
    if (performance.now() - levelsAt >= LEVEL_MS) {
      levelsAt = performance.now();
      const loudest = loudestOfLate(show.inputs);
      for (const { id, name } of show.inputs) log.level(name, gainToDb(loudest[id]!), now);
      live.readNow();
      log.tempo(live.signal(tempoSignal('bpm')), show.tempo.source, now);
    }
    void write();
  };
  // Two looks may come in within a second: each is told when it does.
  const endStage = useSession.subscribe((s, before) => {
    if (s.stage !== before.stage && s.history.show.id === showId) tell(s);
  });
  const every = setInterval(look, WRITE_MS),
    end = whenPerformed((acts) => {
      performed.push(...acts);
      // What is dragged comes sixty times a second; a hidden window looks at it once a minute.
      if (performed.length > 500) performed = [...latestOf(performed)];
    });
  window.addEventListener('pagehide', look);
  void dropOldNights().catch(() => undefined);
  return () => {
    look();
    clearInterval(every);
    window.removeEventListener('pagehide', look);
    end();
    endStage();
  };
}

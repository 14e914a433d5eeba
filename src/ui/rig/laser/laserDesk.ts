import { create } from 'zustand';
import { type LaserSetting, USUAL_LASER } from '../../../core/laser';
import { askLaser, useSession } from '../../state/session';

/** While something is dragged it is told no more often than this. */
const TELL_EVERY_MS = 80;
const STEPS_MOST = 50;

interface Desk {
  /** As it is being set here; null: as the machine has it. */
  readonly draft: LaserSetting | null;
  /** What can be put back, the latest last. */
  readonly past: readonly LaserSetting[];
  /** What belongs to one drag is one step. */
  readonly mark: string | null;
}
const useDesk = create<Desk>(() => ({ draft: null, past: [], mark: null }));
let told = 0,
  timer: ReturnType<typeof setTimeout> | null = null;

const machine = (): LaserSetting => useSession.getState().outlets?.laser?.setting ?? USUAL_LASER;
const isOpen = (): boolean => useSession.getState().outlets?.laser?.lock === 'open';

const known = new WeakMap<LaserSetting, LaserSetting>();
let last = USUAL_LASER,
  lastText = JSON.stringify(USUAL_LASER);
/** It is told several times a second, each time as another object: what says the same stays the same object here. */
function same(setting: LaserSetting): LaserSetting {
  let it = known.get(setting);
  if (!it) {
    const text = JSON.stringify(setting);
    if (text !== lastText) {
      last = setting;
      lastText = text;
    }
    known.set(setting, (it = last));
  }
  return it;
}
/** The machine's own setting of the laser, as it is set at this moment; the same object while it stays as it is. */
export function useLaserSetting(): LaserSetting {
  const draft = useDesk((d) => d.draft),
    setting = useSession((s) => (s.outlets?.laser ? same(s.outlets.laser.setting) : USUAL_LASER)),
    open = useSession((s) => s.outlets?.laser?.lock === 'open');
  return (open ? draft : null) ?? setting;
}
export const useLaserSteps = (): number => useDesk((d) => d.past.length);

function tell(setting: LaserSetting): void {
  if (timer) clearTimeout(timer);
  const wait = told + TELL_EVERY_MS - performance.now();
  if (wait > 0) {
    timer = setTimeout(() => tell(setting), wait);
    return;
  }
  timer = null;
  told = performance.now();
  askLaser({ type: 'laserSet', setting });
}

/** Changes the machine's setting, where it is open. @param mark - of a drag: all of it is one step back */
export function setLaser(change: (setting: LaserSetting) => LaserSetting, mark: string | null = null): void {
  if (!isOpen()) return;
  const { draft, past, mark: before } = useDesk.getState(),
    now = draft ?? machine(),
    next = change(now);
  useDesk.setState({
    draft: next,
    mark,
    past: mark !== null && mark === before ? past : [...past, now].slice(-STEPS_MOST),
  });
  tell(next);
}
export const endLaserDrag = (): void => useDesk.setState({ mark: null });
export function undoLaser(): void {
  const { past } = useDesk.getState(),
    last = past.at(-1);
  if (!last || !isOpen()) return;
  useDesk.setState({ draft: last, past: past.slice(0, -1), mark: null });
  tell(last);
}
export const forgetDraft = (): void => useDesk.setState({ draft: null, past: [], mark: null });

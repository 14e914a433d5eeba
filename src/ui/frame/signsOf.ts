import { askLaser, theEngine, type Session } from '../state/session';
import { Real, Word } from '../../engine/memory/control';
import { isStutter } from '../../core/audio';
import type { Seconds } from '../../core/units';
import type { PlaceName } from '../state/view';
import { laserWords } from '../rig/laser/LaserSays';

export interface Sign {
  readonly shape: 'disc' | 'square' | 'diamond' | 'peak' | 'beam';
  readonly name: string;
  readonly state: string;
  readonly fault: string | null;
  /** What is not well, and no reason to look up from the show. */
  readonly mind?: string | null;
  readonly place: PlaceName;
  /** It stands out, and pressing it does this. */
  readonly act?: () => void;
}

/** @param missed - of the last ten seconds */
const stutterWords = (missed: Seconds): string | null =>
  isStutter(missed)
    ? `The sound stutters: ${missed.toFixed(1)} of the last ten seconds are missing, since this computer has too much to do. Close other programs, or let the picture be drawn smaller in Picture.`
    : null;

/** How the sound and every way out stand now. */
export function signsOf(s: Session): Sign[] {
  const pages = Object.values(s.outlets?.pages ?? {}).reduce((n, x) => n + x, 0);
  const faulty = Object.values(s.inputs).find((i) => i.kind === 'trouble');
  const link = s.outlets?.link;
  const linkFault =
    link === 'lost' || link === 'busy' || link === 'refused' ? (s.outlets?.why ?? null) : null;
  const wireFault = s.outlets?.wires.find((w) => w.trouble)?.trouble ?? null;
  const pulled =
    s.outlets?.receivers?.artnet.pulled || s.outlets?.receivers?.sacn.pulled
      ? 'The lamp cable is out.'
      : null;
  const stumbles = s.refused
    ? `This edit cannot be played, and what was before plays on. Undo it (Ctrl Z), or open another show. ${s.refused}`
    : s.fault?.where === 'show'
      ? `The show stumbles, and goes on: ${s.fault.count} ticks failed. Undo your last edit, or open the show again. ${s.fault.what}`
      : null;
  const outFault =
    s.fault?.where === 'outlets'
      ? `Outputs stumble, and hold what they had: ${s.fault.count} times. Undo your last edit in Rig or Overlays. ${s.fault.what}`
      : null;
  const stopped =
    s.audio === 'stopped'
      ? 'The sound has stopped. Press anywhere to start it again; pictures and lamps go on.'
      : null;
  const control = theEngine()?.control,
    lost = control?.get(Word.Lost) ?? 0,
    stutters = s.audio === 'running' ? stutterWords(control?.reals[Real.MissedOfLate] ?? 0) : null;
  return [
    {
      shape: 'disc',
      name: 'Sound',
      place: 'listen',
      state: stumbles
        ? 'stumbles'
        : faulty || stopped
          ? 'trouble'
          : s.audio === 'running'
            ? stutters
              ? 'stutters'
              : lost
                ? `${lost > 999 ? `${Math.floor(lost / 1000)}k` : lost} lost`
                : 'good'
            : s.history.show.inputs.length
              ? 'press'
              : 'none',
      fault: stumbles ?? (faulty?.kind === 'trouble' ? faulty.why : null) ?? stopped,
      mind: stutters,
    },
    {
      shape: 'square',
      name: 'Picture',
      place: 'picture',
      state: s.dark
        ? 'dark'
        : s.picture.trouble
          ? 'trouble'
          : s.freeze
            ? 'held'
            : s.previewing
              ? `${Math.round(s.picture.rate)}/s`
              : 'good',
      fault: s.picture.trouble,
    },
    {
      shape: 'diamond',
      name: 'Lamps',
      place: 'rig',
      state: s.dark
        ? 'dark'
        : linkFault || wireFault || pulled || outFault
          ? 'trouble'
          : s.freeze
            ? 'held'
            : link === 'driving'
              ? 'good'
              : 'wait',
      fault: linkFault ?? wireFault ?? pulled ?? outFault,
    },
    laserSign(s, linkFault),
    {
      shape: 'peak',
      name: 'Pages',
      place: 'overlays',
      state: s.dark ? 'plain' : linkFault || outFault ? 'trouble' : String(pages),
      fault: linkFault ?? outFault,
    },
  ];
}

/** The laser: the second of the two acts that arm it is a press here. */
function laserSign(s: Session, linkFault: string | null): Sign {
  const report = s.outlets?.laser ?? null,
    step = report?.state?.step ?? 'dark',
    { word } = laserWords(report),
    draws = s.history.show.laserFigures.length > 0 || step !== 'dark';
  return {
    shape: 'beam',
    name: 'Laser',
    place: 'rig',
    state: !draws ? 'none' : step === 'ready' ? 'arm?' : word.toLowerCase(),
    fault: draws && step !== 'dark' ? (report?.trouble ?? linkFault) : null,
    ...(step === 'ready' && { act: () => askLaser({ type: 'laser', act: 'arm' }) }),
  };
}

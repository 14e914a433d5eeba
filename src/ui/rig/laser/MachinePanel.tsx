'use client';
import { Box, Button, Dialog, Switch, Typography } from '@mui/material';
import { type ReactNode, useEffect, useState } from 'react';
import { type LaserLimits, type LaserSetting, USUAL_LASER } from '../../../core/laser';
import { IDN_PORT, isHostName, LASER_CODE_LEAST, LASER_CODE_MOST } from '../../../core/protocols';
import { Choice } from '../../controls/Choice';
import { EntryField } from '../../controls/EntryField';
import { Folded } from '../../controls/Folded';
import { IconAct } from '../../controls/IconAct';
import { NumberField } from '../../controls/NumberField';
import { askLaser, useSession } from '../../state/session';
import { endLaserDrag, forgetDraft, setLaser, undoLaser, useLaserSetting, useLaserSteps } from './laserDesk';

/** What arms the laser, what ends that, and the way to the machine's own setting. */
export function TheMachine({ onZones }: { readonly onZones: () => void }) {
  const report = useSession((s) => s.outlets?.laser ?? null),
    step = report?.state?.step ?? 'dark',
    says = useSession((s) => s.outlets?.laserSays ?? null);
  const [asking, setAsking] = useState(false);
  const lock = report?.lock ?? 'locked';
  // Whoever opened it wanted to set it.
  const opened = asking && lock === 'open';
  useEffect(() => {
    if (opened) onZones();
  }, [opened, onZones]);
  return (
    <Box
      component="section"
      aria-label="The machine"
      sx={{ borderTop: '2px solid var(--bed)', py: 1, display: 'grid', gap: 0.75 }}
    >
      <Typography variant="h3" component="h3">
        the machine
      </Typography>
      <Box sx={{ color: 'var(--faint)', fontSize: '0.9rem' }}>
        {report
          ? report.setting.to.kind === 'simulated'
            ? `Points go to the simulated projector at ${report.address || report.projector.address}. `
            : `Points go to ${report.setting.to.host}:${report.setting.to.port}. `
          : 'Waiting for the server. '}
        What it may do is kept on this computer, under a lock: no show and no route can change it.
      </Box>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button
          variant="contained"
          disabled={!report}
          onClick={() => (lock === 'open' ? onZones() : setAsking(true))}
          sx={{ flex: 1 }}
        >
          zones …
        </Button>
        {step === 'dark' ? (
          <Button
            variant="contained"
            disabled={!report?.state}
            title="The first of two acts. The second is the Laser sign in the frame."
            onClick={() => askLaser({ type: 'laser', act: 'ready' })}
            sx={{ flex: 1 }}
          >
            make ready
          </Button>
        ) : (
          <Button
            variant="contained"
            onClick={() => askLaser({ type: 'laser', act: 'let go' })}
            sx={{ flex: 1 }}
          >
            {step === 'armed' ? 'disarm' : 'not now'}
          </Button>
        )}
      </Box>
      <Button component="a" variant="text" href="/laser" target="_blank" sx={{ justifySelf: 'start' }}>
        what its mirrors draw, on a page of its own
      </Button>
      {says && !asking && <Box role="alert">{says}</Box>}
      {asking && <Unlock first={lock === 'none'} why={says} onLeave={() => setAsking(false)} />}
    </Box>
  );
}

function Unlock({
  first,
  why,
  onLeave,
}: {
  readonly first: boolean;
  readonly why: string | null;
  readonly onLeave: () => void;
}) {
  const [code, setCode] = useState(''),
    [tried, setTried] = useState(false);
  const short = code.length < LASER_CODE_LEAST;
  return (
    <Dialog open onClose={onLeave} aria-labelledby="laser-lock">
      <Box
        component="form"
        onSubmit={(e) => {
          e.preventDefault();
          setTried(true);
          if (short) return;
          askLaser({ type: 'laserLock', code });
        }}
        sx={{ p: 2.5, display: 'grid', gap: 1.5, width: 420, maxWidth: '100%' }}
      >
        <Typography variant="h2" id="laser-lock">
          {first ? 'Choose a code' : 'The laser’s lock'}
        </Typography>
        <Box>
          {first
            ? `It opens the laser’s setting on this computer from now on: at least ${LASER_CODE_LEAST} signs. Whoever forgets it can only take it out of the server’s folder.`
            : 'Zones, limits and the way to the projector are set behind this code.'}
        </Box>
        <Box
          component="input"
          type="password"
          autoFocus
          aria-label="Code"
          autoComplete="off"
          maxLength={LASER_CODE_MOST}
          value={code}
          onChange={(e) => setCode(e.currentTarget.value)}
          sx={(t) => ({
            font: 'inherit',
            minHeight: 40,
            px: 1,
            border: `2px solid ${t.ink.paperFaint}`,
            background: 'transparent',
            color: 'inherit',
          })}
        />
        {tried &&
          (short ? (
            <Box role="alert">At least {LASER_CODE_LEAST} signs.</Box>
          ) : (
            why && <Box role="alert">{why}</Box>
          ))}
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button type="submit" variant="contained">
            {first ? 'use this code' : 'open'}
          </Button>
          <Button variant="text" onClick={onLeave}>
            cancel
          </Button>
        </Box>
      </Box>
    </Dialog>
  );
}

const limit = (change: Partial<LaserLimits>, mark: string | null = null): void =>
  setLaser((s) => ({ ...s, limits: { ...s.limits, ...change } }), mark);

function Row({ words, children }: { readonly words: ReactNode; readonly children: ReactNode }) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 38, fontSize: '0.95rem' }}>
      <Box sx={{ flex: 1 }}>{words}</Box>
      {children}
    </Box>
  );
}
function Num({
  label,
  value,
  unit,
  min,
  max,
  step,
  usual,
  set,
}: {
  readonly label: string;
  readonly value: number;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly usual: number;
  readonly set: (x: number, mark: string) => void;
}) {
  return (
    <Row words={label}>
      <NumberField
        label={label}
        value={value}
        unit={unit}
        min={min}
        max={max}
        step={step}
        usual={usual}
        onChange={(x) => set(x, label)}
        onEnd={endLaserDrag}
      />
    </Row>
  );
}
/** A new zone: a box in the middle of the field. */
const BOX = [-0.3, -0.1, 0.3, -0.1, 0.3, 0.3, -0.3, 0.3];

/** The machine's own setting of the laser: where it may shine, how bright, what its mirrors can do, how it hangs, and where its points go. */
export function MachinePanel({ onLeave }: { readonly onLeave: () => void }) {
  const setting = useLaserSetting(),
    steps = useLaserSteps(),
    says = useSession((s) => s.outlets?.laserSays ?? null),
    open = useSession((s) => s.outlets?.laser?.lock === 'open');
  // Locked meanwhile, by itself or from elsewhere.
  useEffect(() => {
    if (open) return;
    forgetDraft();
    onLeave();
  }, [open, onLeave]);
  const { limits, scanner } = setting,
    usual = USUAL_LASER.limits;
  return (
    <Box sx={{ pb: 3 }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, pb: 0.5 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          Where it may shine
        </Typography>
        <Button variant="text" disabled={steps === 0} onClick={undoLaser} title="Puts the last change back">
          undo
        </Button>
      </Box>
      <Box sx={{ color: 'var(--faint)', fontSize: '0.9rem', pb: 1 }}>
        Kept on this computer. Zones can be moved while it is lit at the simulated projector; anything else,
        and any change at a real one, disarms it.
      </Box>
      {says && <Box role="alert">{says}</Box>}
      <Zones limits={limits} />
      <Folded title="Brightness and dose">
        <Num
          label="At most, everywhere"
          value={Math.round(limits.most * 100)}
          unit="%"
          min={0}
          max={100}
          step={1}
          usual={usual.most * 100}
          set={(x, mark) => limit({ most: x / 100 }, mark)}
        />
        <Num
          label="Least size of what is lit"
          value={Math.round(limits.leastSize * 50)}
          unit="%"
          min={1}
          max={100}
          step={1}
          usual={usual.leastSize * 50}
          set={(x, mark) => limit({ leastSize: x / 50 }, mark)}
        />
        <Num
          label="Least speed of the beam"
          value={limits.leastSpeed}
          unit="/s"
          min={2}
          max={1000}
          step={1}
          usual={usual.leastSpeed}
          set={(x, mark) => limit({ leastSpeed: x }, mark)}
        />
        <Num
          label="Most full light on a spot"
          value={limits.dose}
          unit="ms"
          min={0.05}
          max={50}
          step={0.05}
          usual={usual.dose}
          set={(x, mark) => limit({ dose: x }, mark)}
        />
        <Num
          label="counted over"
          value={limits.doseMs}
          unit="ms"
          min={50}
          max={2000}
          step={10}
          usual={usual.doseMs}
          set={(x, mark) => limit({ doseMs: x }, mark)}
        />
        <Num
          label="Margin round keep-outs"
          value={Math.round(limits.margin * 500) / 10}
          unit="%"
          min={0}
          max={25}
          step={0.1}
          usual={usual.margin * 50}
          set={(x, mark) => limit({ margin: x / 50 }, mark)}
        />
        <Box sx={{ color: 'var(--faint)', fontSize: '0.86rem' }}>
          Limits of this design, in the spirit of the published exposure standards. They are no certificate:
          who shines into a house has it measured.
        </Box>
      </Folded>
      <Folded title="Scanner">
        <Num
          label="Points a second"
          value={limits.pointsPerSecond}
          unit="/s"
          min={5000}
          max={60000}
          step={500}
          usual={usual.pointsPerSecond}
          set={(x, mark) => limit({ pointsPerSecond: Math.round(x) }, mark)}
        />
        <Num
          label="Field across"
          value={scanner.angle}
          unit="°"
          min={1}
          max={120}
          step={1}
          usual={40}
          set={(x, mark) => setLaser((s) => ({ ...s, scanner: { ...s.scanner, angle: x } }), mark)}
        />
        <Num
          label="Greatest speed, fields"
          value={scanner.speed}
          unit="/s"
          min={50}
          max={20000}
          step={50}
          usual={USUAL_LASER.scanner.speed}
          set={(x, mark) => setLaser((s) => ({ ...s, scanner: { ...s.scanner, speed: x } }), mark)}
        />
        <Num
          label="Greatest acceleration, million fields"
          value={scanner.acceleration / 1e6}
          unit="/s²"
          min={0.1}
          max={1000}
          step={0.1}
          usual={USUAL_LASER.scanner.acceleration / 1e6}
          set={(x, mark) =>
            setLaser((s) => ({ ...s, scanner: { ...s.scanner, acceleration: x * 1e6 } }), mark)
          }
        />
        <Num
          label="Colours later by"
          value={scanner.colourShift}
          unit="points"
          min={0}
          max={40}
          step={1}
          usual={USUAL_LASER.scanner.colourShift}
          set={(x, mark) =>
            setLaser((s) => ({ ...s, scanner: { ...s.scanner, colourShift: Math.round(x) } }), mark)
          }
        />
        <Num
          label="Dark before a line, lit after it"
          value={scanner.anchors}
          unit="points"
          min={0}
          max={30}
          step={1}
          usual={USUAL_LASER.scanner.anchors}
          set={(x, mark) =>
            setLaser((s) => ({ ...s, scanner: { ...s.scanner, anchors: Math.round(x) } }), mark)
          }
        />
      </Folded>
      <Folded title="How it hangs">
        <Hanging setting={setting} />
      </Folded>
      <Folded title="Way to the projector">
        <Way setting={setting} />
      </Folded>
      <Box sx={{ display: 'flex', gap: 1, pt: 1.5 }}>
        <Button variant="contained" onClick={onLeave}>
          back to the figures
        </Button>
        <Button variant="text" onClick={() => askLaser({ type: 'laserLock', code: null })}>
          lock again
        </Button>
      </Box>
    </Box>
  );
}

function Zones({ limits }: { readonly limits: LaserLimits }) {
  const { keepOuts, zones } = limits;
  const corners = (polygon: readonly number[], set: (p: readonly number[]) => void, name: string) => (
    <>
      <Button
        variant="text"
        aria-label={`One corner more for ${name}`}
        disabled={polygon.length >= 32}
        onClick={() => set(withCorner(polygon))}
      >
        + corner
      </Button>
      <Button
        variant="text"
        aria-label={`One corner fewer for ${name}`}
        disabled={polygon.length <= 6}
        onClick={() => set(polygon.slice(0, -2))}
      >
        − corner
      </Button>
    </>
  );
  return (
    <Box sx={{ pb: 1 }}>
      {keepOuts.map((p, i) => (
        <Row key={`k${i}`} words={`keep-out ${i + 1}`}>
          {corners(
            p,
            (next) => limit({ keepOuts: keepOuts.map((x, k) => (k === i ? next : x)) }),
            `keep-out ${i + 1}`,
          )}
          <IconAct
            act="delete"
            label={`Remove keep-out ${i + 1}`}
            onClick={() => limit({ keepOuts: keepOuts.filter((_, k) => k !== i) })}
          />
        </Row>
      ))}
      {zones.map((z, i) => (
        <Row key={`z${i}`} words={`zone ${i + 1}`}>
          <NumberField
            label={`At most in zone ${i + 1}`}
            value={Math.round(z.most * 100)}
            unit="%"
            min={0}
            max={100}
            step={1}
            usual={40}
            onChange={(x) =>
              limit(
                { zones: zones.map((o, k) => (k === i ? { ...o, most: Math.round(x) / 100 } : o)) },
                `most ${i}`,
              )
            }
            onEnd={endLaserDrag}
          />
          {corners(
            z.polygon,
            (polygon) => limit({ zones: zones.map((o, k) => (k === i ? { ...o, polygon } : o)) }),
            `zone ${i + 1}`,
          )}
          <IconAct
            act="delete"
            label={`Remove zone ${i + 1}`}
            onClick={() => limit({ zones: zones.filter((_, k) => k !== i) })}
          />
        </Row>
      ))}
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button
          variant="text"
          disabled={keepOuts.length >= 32}
          onClick={() => limit({ keepOuts: [...keepOuts, BOX] })}
        >
          + keep-out
        </Button>
        <Button
          variant="text"
          disabled={zones.length >= 32}
          onClick={() => limit({ zones: [...zones, { polygon: BOX, most: 0.4 }] })}
        >
          + zone
        </Button>
      </Box>
      {keepOuts.length === 0 && (
        <Box role="alert" sx={{ pt: 0.5 }}>
          There is no keep-out: it may shine anywhere in its field.
        </Box>
      )}
    </Box>
  );
}
/** One corner more, in the middle of the longest side. */
function withCorner(p: readonly number[]): number[] {
  let best = 0,
    long = -1;
  for (let i = 0; i < p.length; i += 2) {
    const j = (i + 2) % p.length,
      far = Math.hypot(p[j]! - p[i]!, p[j + 1]! - p[i + 1]!);
    if (far > long) {
      long = far;
      best = i;
    }
  }
  const next = (best + 2) % p.length;
  return [
    ...p.slice(0, best + 2),
    (p[best]! + p[next]!) / 2,
    (p[best + 1]! + p[next + 1]!) / 2,
    ...p.slice(best + 2),
  ];
}

const CORNERS = ['lower left', 'lower right', 'upper right', 'upper left'] as const;
function Hanging({ setting: { field } }: { readonly setting: LaserSetting }) {
  const mirror = (label: string, key: 'mirrorX' | 'mirrorY') => (
    <Row words={label}>
      <Switch
        checked={field[key]}
        onChange={(e) => {
          const on = e.currentTarget.checked;
          setLaser((s) => ({ ...s, field: { ...s.field, [key]: on } }));
        }}
        slotProps={{ input: { 'aria-label': label } }}
      />
    </Row>
  );
  return (
    <>
      {mirror('mirrored sideways', 'mirrorX')}
      {mirror('upside down', 'mirrorY')}
      {CORNERS.map((words, i) => (
        <Row key={words} words={`${words} lands at`}>
          {([0, 1] as const).map((axis) => (
            <NumberField
              key={axis}
              label={`${words}, ${axis === 0 ? 'across' : 'up'}`}
              value={Math.round(field.corners[i]![axis] * 1000) / 10}
              unit="%"
              min={-50}
              max={150}
              step={0.1}
              usual={USUAL_LASER.field.corners[i]![axis] * 100}
              onChange={(x) =>
                setLaser((s) => {
                  const corners = s.field.corners.map((c, k): [number, number] =>
                    k === i ? (axis === 0 ? [x / 100, c[1]] : [c[0], x / 100]) : [c[0], c[1]],
                  ) as unknown as LaserSetting['field']['corners'];
                  return { ...s, field: { ...s.field, corners } };
                }, `corner ${i} ${axis}`)
              }
              onEnd={endLaserDrag}
            />
          ))}
        </Row>
      ))}
    </>
  );
}

function Way({ setting }: { readonly setting: LaserSetting }) {
  const { to, bits, mode, shutter } = setting,
    found = useSession((s) => s.outlets?.laser?.found ?? null);
  const set = (change: Partial<LaserSetting>, mark: string | null = null): void =>
    setLaser((s) => ({ ...s, ...change }), mark);
  return (
    <Box sx={{ display: 'grid', gap: 0.5, justifyItems: 'start' }}>
      <Choice
        label="points go"
        name="Where the points go"
        value={to.kind}
        options={[
          ['simulated', 'to the simulated projector'],
          ['network', 'to an address'],
        ]}
        onChange={(kind) =>
          set({ to: kind === 'network' ? { kind, host: '127.0.0.1', port: IDN_PORT } : { kind } })
        }
      />
      {to.kind === 'network' && (
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          <EntryField
            label="Address of the projector"
            value={to.host}
            read={(text) => (isHostName(text.trim()) ? text.trim() : null)}
            wrong="An address such as 10.0.0.5."
            onChange={(host) => set({ to: { ...to, host } })}
          />
          <NumberField
            label="UDP port of the projector"
            value={to.port}
            unit=""
            min={1}
            max={65535}
            step={1}
            usual={IDN_PORT}
            onChange={(port) => set({ to: { ...to, port: Math.round(port) } }, 'port')}
            onEnd={endLaserDrag}
          />
        </Box>
      )}
      <Button variant="text" onClick={() => askLaser({ type: 'laserSeek' })}>
        look for projectors
      </Button>
      {found?.map((p) => (
        <Row
          key={p.address}
          words={`${p.name || 'A projector'} at ${p.address}${p.occupied ? ', in use' : ''}`}
        >
          <Button
            variant="text"
            onClick={() => {
              const at = p.address.lastIndexOf(':');
              set({
                to: { kind: 'network', host: p.address.slice(0, at), port: Number(p.address.slice(at + 1)) },
              });
            }}
          >
            use it
          </Button>
        </Row>
      ))}
      <Choice
        label="sent as"
        name="How the points are sent"
        value={mode}
        options={[
          ['wave', 'a stream of points'],
          ['frame', 'whole pictures, each drawn once'],
        ]}
        onChange={(x) => set({ mode: x })}
      />
      <Choice
        label="colours of"
        name="Bits of a colour"
        value={bits}
        options={[
          [16, '16 bits'],
          [8, '8 bits'],
        ]}
        onChange={(x) => set({ bits: x })}
      />
      <Row words="a shutter on a universe">
        <Switch
          checked={shutter !== null}
          onChange={(e) => set({ shutter: e.currentTarget.checked ? { universe: 0, address: 512 } : null })}
          slotProps={{ input: { 'aria-label': 'a shutter on a universe' } }}
        />
      </Row>
      {shutter && (
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', fontSize: '0.95rem' }}>
          <span>universe</span>
          <NumberField
            label="Universe of the shutter"
            value={shutter.universe + 1}
            unit=""
            min={1}
            max={32768}
            step={1}
            usual={1}
            onChange={(x) => set({ shutter: { ...shutter, universe: Math.round(x) - 1 } }, 'shutter')}
            onEnd={endLaserDrag}
          />
          <span>address</span>
          <NumberField
            label="Address of the shutter"
            value={shutter.address}
            unit=""
            min={1}
            max={512}
            step={1}
            usual={512}
            onChange={(x) => set({ shutter: { ...shutter, address: Math.round(x) } }, 'shutter at')}
            onEnd={endLaserDrag}
          />
        </Box>
      )}
      {shutter && (
        <Box sx={{ color: 'var(--faint)', fontSize: '0.86rem' }}>
          It is full while light may leave the laser, and 0 otherwise. A lamp of that universe must be
          patched, or nothing is sent on it.
        </Box>
      )}
    </Box>
  );
}

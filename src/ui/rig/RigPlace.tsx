'use client';
import { Box, Button, MenuItem, Select, Switch, Typography } from '@mui/material';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import {
  channelCount,
  clashesOf,
  type DimmerCurve,
  DIMMER_CURVES,
  FIXTURE_MODES,
  type FixtureMode,
  shownUniverse,
  UNIVERSE_MAX,
} from '../../core/lights';
import {
  addFixture,
  changeWire,
  type Fixture,
  freeAddress,
  freeId,
  freeName,
  patchFixture,
  removeThing,
  renameThing,
  thingsOf,
  type Wire,
} from '../../core/show';
import { isHostName } from '../../core/protocols';
import type { SafeState } from '../../core/outlets';
import { Choice } from '../controls/Choice';
import { placeGrid, WITH_PANEL } from '../controls/placeGrid';
import { LiveText } from '../controls/LiveText';
import { NumberField } from '../controls/NumberField';
import { Seen } from '../controls/Seen';
import { Sheet } from '../controls/Sheet';
import { ThingPanel } from '../controls/ThingPanel';
import { useCanvas } from '../controls/canvas';
import { arm, currentShow, edit, endDrag, theEngine, useSession } from '../state/session';
import { say } from '../state/notices';
import { HOP, SAMPLE_RATE } from '../../core/units';
import { Word } from '../../engine/memory/control';
import { FONT } from '../theme/tokens';
import { Lamp } from './Lamp';

/** A patch of so many lamps is drawn whole; a row of it is so high. */
const PATCH_WHOLE = 60;
const PATCH_ROW = 45;
const CURVE_WORDS: Readonly<Record<DimmerCurve, string>> = {
  linear: 'evenly',
  square: 'slowly at first',
  's-shaped': 'slowly at both ends',
};
const HOP_MS = (HOP / SAMPLE_RATE) * 1000;

/** Rig: the lamps as their packets light them, the patch, the wires, and what is really on them. */
export function RigPlace() {
  const show = useSession((s) => s.history.show);
  const [chosen, setChosen] = useState<string | null>(null);
  const fixture = show.fixtures.find((f) => f.id === chosen) ?? show.fixtures[0];
  const thing = fixture ? thingsOf(show).find((t) => t.id === fixture.id) : undefined;
  const add = (): void => {
    const universe = fixture?.universe ?? 0;
    const address = freeAddress(currentShow(), universe, 3);
    if (address === null) {
      say('warning', `Universe ${shownUniverse(universe)} is full. Change a lamp’s universe first.`);
      return;
    }
    const id = freeId(currentShow(), 'lamp');
    edit(
      'patch a lamp',
      addFixture({
        id,
        name: freeName(currentShow().fixtures, 'Lamp'),
        mode: 'rgb',
        universe,
        address,
        rest: {},
      }),
    );
    setChosen(id);
  };
  const patch = useRef<HTMLDivElement>(null);
  // Of a long patch only the rows that are seen are drawn.
  const long = show.fixtures.length > PATCH_WHOLE;
  const rows = useVirtualizer({
    count: show.fixtures.length,
    enabled: long,
    getScrollElement: () => patch.current,
    estimateSize: () => PATCH_ROW,
    overscan: 6,
  });
  const drawn = rows.getVirtualItems(),
    seen = long ? drawn.flatMap((r) => show.fixtures[r.index] ?? []) : show.fixtures,
    above = long ? (drawn[0]?.start ?? 0) : 0,
    below = long ? rows.getTotalSize() - (drawn.at(-1)?.end ?? 0) : 0;
  const clashes = useMemo(() => clashesOf(show.fixtures), [show.fixtures]);
  const universes = useMemo(() => [...new Set(show.fixtures.map((f) => f.universe))], [show.fixtures]);
  return (
    <Box sx={placeGrid(WITH_PANEL)}>
      <Box sx={{ overflowY: 'auto', px: 1.5, pt: 1, pb: 2, minWidth: 0 }}>
        <Typography variant="h2">The deck, as its packets light it</Typography>
        <Box
          sx={{
            mt: 1,
            background: '#0b0a0a',
            display: 'flex',
            flexWrap: 'wrap',
            justifyContent: 'space-evenly',
            borderBottom: '14px solid #3a2c1e',
            minHeight: 150,
          }}
        >
          {show.fixtures.map((f) => (
            <Box
              key={f.id}
              component="button"
              aria-pressed={f.id === fixture?.id}
              aria-label={`Select ${f.name}`}
              onClick={() => setChosen(f.id)}
              sx={(t) => ({
                all: 'unset',
                cursor: 'pointer',
                p: 1,
                color: '#f2e9d4',
                textAlign: 'center',
                boxShadow: f.id === fixture?.id ? `inset 0 -5px 0 ${t.ink.selected}` : 'none',
                '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
              })}
            >
              <Seen style={{ width: 128, height: 128 * 1.2 }}>
                <Lamp fixture={f} size={128} />
              </Seen>
              <Box sx={{ fontSize: '0.92rem', pb: 0.75 }}>{f.name}</Box>
            </Box>
          ))}
          {show.fixtures.length === 0 && (
            <Box sx={{ p: 3, color: '#f2e9d4' }}>No lamps yet. Press “+ lamp” to patch one.</Box>
          )}
        </Box>
        <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between', mt: 2 }}>
          <Typography variant="h2">Patch</Typography>
          <Button variant="text" onClick={add}>
            + lamp
          </Button>
        </Box>
        <Box ref={patch} sx={{ overflow: 'auto', maxHeight: long ? 460 : 'none' }}>
          <Box
            component="table"
            aria-rowcount={show.fixtures.length + 1}
            sx={(t) => ({
              width: '100%',
              borderCollapse: 'collapse',
              fontSize: '0.94rem',
              '& th': { textAlign: 'left', fontWeight: 400, color: t.ink.sheetFaint, pb: 0.5, pr: 2 },
              '& td': { borderTop: `2px solid ${t.ink.sheet}`, py: 0.5, pr: 2 },
              '--bed': t.ink.track,
            })}
          >
            <thead>
              <tr>
                <th scope="col">lamp</th>
                <th scope="col">kind</th>
                <th scope="col">universe</th>
                <th scope="col">address</th>
                <th scope="col">on the wire</th>
                <th scope="col">
                  <span style={{ position: 'absolute', clipPath: 'inset(50%)' }}>remove</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {above > 0 && <tr aria-hidden style={{ height: above }} />}
              {seen.map((f) => (
                <tr key={f.id} style={{ height: PATCH_ROW }}>
                  <td>
                    <b>{f.name}</b>
                  </td>
                  <td>
                    <Select
                      size="small"
                      value={f.mode}
                      inputProps={{ 'aria-label': `Kind of ${f.name}` }}
                      onChange={(e) =>
                        edit(`change ${f.name}`, patchFixture(f.id, { mode: e.target.value as FixtureMode }))
                      }
                      sx={{ fontSize: '0.92rem', maxWidth: 190 }}
                    >
                      {Object.entries(FIXTURE_MODES).map(([k, m]) => (
                        <MenuItem key={k} value={k}>
                          {m.label}
                        </MenuItem>
                      ))}
                    </Select>
                  </td>
                  <td>
                    <NumberField
                      label={`Universe of ${f.name}`}
                      value={shownUniverse(f.universe)}
                      unit=""
                      min={shownUniverse(0)}
                      max={shownUniverse(UNIVERSE_MAX)}
                      step={1}
                      onChange={(v) =>
                        edit(
                          `patch ${f.name}`,
                          patchFixture(f.id, { universe: Math.round(v) - shownUniverse(0) }),
                          `universe ${f.id}`,
                        )
                      }
                      onEnd={endDrag}
                    />
                  </td>
                  <td>
                    <NumberField
                      label={`Address of ${f.name}`}
                      value={f.address}
                      unit=""
                      min={1}
                      max={513 - channelCount(f.mode)}
                      step={1}
                      onChange={(v) =>
                        edit(
                          `patch ${f.name}`,
                          patchFixture(f.id, { address: Math.round(v) }),
                          `address ${f.id}`,
                        )
                      }
                      onEnd={endDrag}
                    />
                    {clashes.has(f.id) && <Clash fixture={f} other={clashes.get(f.id)!} />}
                  </td>
                  <td>
                    <LiveText
                      read={() =>
                        Array.from({ length: channelCount(f.mode) }, (_, i) =>
                          String(theEngine()?.received.channel(f.universe, f.address + i) ?? 0).padStart(
                            3,
                            ' ',
                          ),
                        ).join(' ')
                      }
                      sx={{ whiteSpace: 'pre' }}
                      label={`Channels of ${f.name} as received`}
                    />
                  </td>
                  <td>
                    <Button
                      variant="text"
                      aria-label={`Remove ${f.name}`}
                      onClick={() => edit(`remove ${f.name}`, removeThing(f.id))}
                    >
                      remove
                    </Button>
                  </td>
                </tr>
              ))}
              {below > 0 && <tr aria-hidden style={{ height: below }} />}
            </tbody>
          </Box>
        </Box>
        <Typography variant="h2" sx={{ mt: 2, mb: 0.75 }}>
          Wires
        </Typography>
        {show.wires.map((w) => (
          <WireStrip key={w.id} wire={w} />
        ))}
        <Typography variant="h2" sx={{ mt: 2, mb: 0.75 }}>
          Received, channel by channel
        </Typography>
        {universes.map((u) => (
          <Seen key={u} style={{ minHeight: 84 }}>
            <Universe universe={u} />
          </Seen>
        ))}
        <Timing />
      </Box>
      <Box
        component="section"
        aria-label="Selected lamp"
        sx={(t) => ({
          background: t.ink.paper,
          color: t.ink.paperText,
          '--mark': t.ink.paperText,
          '--bed': t.ink.paperDeep,
          '--faint': t.ink.paperFaint,
          px: 2.25,
          pt: 1.5,
          overflowY: 'auto',
          minHeight: 0,
          clipPath: 'polygon(0 2px, 100% 0, 100% 100%, 3px 100%, 0 62%, 3px 31%)',
        })}
      >
        {thing ? (
          <ThingPanel
            thing={thing}
            onRename={(name) => edit('rename a lamp', renameThing(thing.id, name))}
            before={
              fixture && (
                <Choice<DimmerCurve>
                  label="dims"
                  value={fixture.curve ?? 'linear'}
                  options={DIMMER_CURVES.map((c) => [c, CURVE_WORDS[c]])}
                  onChange={(curve) => edit(`how ${fixture.name} dims`, patchFixture(fixture.id, { curve }))}
                />
              )
            }
          />
        ) : (
          <Typography sx={{ pt: 2 }}>No lamp is selected.</Typography>
        )}
      </Box>
    </Box>
  );
}

/** A lamp that shares channels with another: with whom, and the way out in one press. */
function Clash({ fixture, other }: { readonly fixture: Fixture; readonly other: string }) {
  const name = useSession((s) => s.history.show.fixtures.find((f) => f.id === other)?.name) ?? other;
  const moveOn = (): void => {
    const free = freeAddress(currentShow(), fixture.universe, channelCount(fixture.mode));
    if (free === null)
      say(
        'warning',
        `Universe ${shownUniverse(fixture.universe)} is full. Change ${fixture.name}’s universe first.`,
      );
    else edit(`patch ${fixture.name}`, patchFixture(fixture.id, { address: free }));
  };
  return (
    <Box
      component="span"
      role="alert"
      sx={(t) => ({
        display: 'inline-flex',
        alignItems: 'center',
        gap: 0.5,
        whiteSpace: 'nowrap',
        borderLeft: `4px solid ${t.ink.selected}`,
        pl: 0.75,
        ml: 0.5,
      })}
    >
      shared with {name}
      <Button variant="text" aria-label={`Next free address for ${fixture.name}`} onClick={moveOn}>
        next free
      </Button>
    </Box>
  );
}

function WireStrip({ wire }: { readonly wire: Wire }) {
  const report = useSession((s) => s.outlets);
  const armed = useSession((s) => s.armed);
  const state = report?.wires.find((w) => w.id === wire.id);
  const receiver = report?.receiver;
  const trouble =
    report?.link === 'driving'
      ? (state?.trouble ?? report.why)
      : (report?.why ?? 'Connecting to the bridge …');
  const network = wire.target.kind === 'network' ? wire.target : null;
  const [host, setHost] = useState<string | null>(null);
  const wrong = host !== null && !isHostName(host.trim());
  const setTarget = (target: Wire['target']): void => edit('change a wire', changeWire(wire.id, { target }));
  const pull = (pulled: boolean): void => {
    void fetch(`/bridge/receiver?pulled=${pulled ? 'yes' : 'no'}`, { method: 'POST' });
  };
  return (
    <Sheet name={wire.id} warned={trouble !== null} sx={{ p: 1.5 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, flexWrap: 'wrap' }}>
        <Typography variant="h3" component="h3">
          {wire.name}: Art-Net
        </Typography>
        <Select
          size="small"
          value={wire.target.kind}
          inputProps={{ 'aria-label': 'Where the packets go' }}
          onChange={(e) =>
            setTarget(
              e.target.value === 'network'
                ? { kind: 'network', host: '127.0.0.1', port: 6454 }
                : { kind: 'simulated' },
            )
          }
        >
          <MenuItem value="simulated">to the simulated lamps</MenuItem>
          <MenuItem value="network">to an address</MenuItem>
        </Select>
        {network && (
          <>
            <Box
              component="input"
              aria-label="Address of the node"
              aria-invalid={wrong}
              value={host ?? network.host}
              onFocus={(e) => e.currentTarget.select()}
              onChange={(e) => setHost(e.currentTarget.value)}
              onBlur={() => {
                if (host && !wrong) setTarget({ ...network, host: host.trim() });
                setHost(null);
              }}
              onKeyDown={(e) => {
                e.stopPropagation();
                if (e.key === 'Enter') e.currentTarget.blur();
              }}
              sx={(t) => ({
                fontFamily: FONT.number,
                minHeight: 32,
                width: 150,
                background: t.ink.ground,
                color: t.ink.sheetText,
                border: `2px solid ${wrong ? t.ink.selected : t.ink.track}`,
              })}
            />
            {wrong && <Box role="alert">An address such as 10.0.0.5.</Box>}
            <NumberField
              label="UDP port"
              value={network.port}
              unit=""
              min={1}
              max={65535}
              step={1}
              usual={6454}
              onChange={(v) => setTarget({ ...network, port: Math.round(v) })}
            />
          </>
        )}
        <span>at most</span>
        <NumberField
          label="Packets a second at most"
          value={wire.rate}
          unit="/s"
          min={1}
          max={44}
          step={1}
          usual={40}
          onChange={(rate) => edit('change a wire', changeWire(wire.id, { rate }), 'rate')}
          onEnd={endDrag}
        />
        <SafeFields wire={wire} />
        <Box
          component="label"
          title="Packets leave this computer only while this is on."
          sx={{ display: 'flex', alignItems: 'center' }}
        >
          arm outputs beyond this computer
          <Switch
            size="small"
            checked={armed}
            onChange={(e) => arm(e.target.checked)}
            slotProps={{ input: { 'aria-label': 'Arm outputs beyond this computer' } }}
          />
        </Box>
      </Box>
      <Box role="status" sx={{ fontFamily: FONT.number, fontSize: '0.88rem', mt: 0.75 }}>
        {trouble ?? (
          <>
            sends to {state?.address} · {state?.packets} packets
            {state?.errors ? ` · ${state.errors} errors` : ''}
            {report?.restarts ? ` · started again ${report.restarts} times` : ''}
            {report?.nodes.length
              ? ` · ${report.nodes.map((n) => `“${n.longName}” answers the poll`).join(', ')}`
              : ' · no node has answered the poll yet'}
          </>
        )}
      </Box>
      {report?.link === 'busy' && (
        <Button variant="contained" sx={{ mt: 1 }} onClick={() => theEngine()?.takeLamps()}>
          Take over here
        </Button>
      )}
      {wire.target.kind === 'simulated' && receiver && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, mt: 0.75, flexWrap: 'wrap' }}>
          <Box sx={{ fontFamily: FONT.number, fontSize: '0.88rem' }}>
            simulated lamps at {receiver.address}: {receiver.packets} packets decoded, {receiver.bad} refused,{' '}
            {receiver.polls} polls answered
          </Box>
          <Button variant="outlined" aria-pressed={receiver.pulled} onClick={() => pull(!receiver.pulled)}>
            {receiver.pulled ? 'Plug the lamp cable in' : 'Pull the lamp cable'}
          </Button>
        </Box>
      )}
    </Sheet>
  );
}

const SAFE_WORDS: Readonly<Record<SafeState['then'], string>> = {
  hold: 'hold the last values',
  rest: 'fade to rest',
  dark: 'fade to dark',
};
/** What the lamps of a wire do when the show is not heard of any more. */
function SafeFields({ wire: { id, safe } }: { readonly wire: Wire }) {
  const set = (next: SafeState, mark: string | null = null): void =>
    edit('change a wire’s safe state', changeWire(id, { safe: next }), mark);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
      <span>without a show</span>
      <Select
        size="small"
        value={safe.then}
        inputProps={{ 'aria-label': 'What the lamps do without a show' }}
        onChange={(e) => {
          const then = e.target.value;
          set(
            then === 'hold'
              ? { then }
              : safe.then === 'hold'
                ? { then, afterMs: 10000, overMs: 2000 }
                : { ...safe, then },
          );
        }}
      >
        {(Object.keys(SAFE_WORDS) as SafeState['then'][]).map((then) => (
          <MenuItem key={then} value={then}>
            {SAFE_WORDS[then]}
          </MenuItem>
        ))}
      </Select>
      {safe.then !== 'hold' && (
        <>
          <span>after</span>
          <NumberField
            label="Seconds without a show before the lamps change"
            value={safe.afterMs / 1000}
            unit="s"
            min={0}
            max={600}
            step={1}
            usual={10}
            onChange={(s) => set({ ...safe, afterMs: Math.round(s * 1000) }, 'safe after')}
            onEnd={endDrag}
          />
          <span>within</span>
          <NumberField
            label="Seconds that the change takes"
            value={safe.overMs / 1000}
            unit="s"
            min={0}
            max={60}
            step={0.5}
            usual={2}
            onChange={(s) => set({ ...safe, overMs: Math.round(s * 1000) }, 'safe over')}
            onEnd={endDrag}
          />
        </>
      )}
    </Box>
  );
}

/** The first channels of one universe as they arrived. */
function Universe({ universe }: { readonly universe: number }) {
  const shown = 48;
  const ref = useCanvas(({ g, width, height, styles }) => {
    const received = theEngine()?.received;
    const w = width / shown;
    for (let i = 0; i < shown; i++) {
      const x = received?.channel(universe, i + 1) ?? 0;
      g.fillStyle = styles.getPropertyValue('--off');
      g.fillRect(i * w, 0, w - 2, height);
      g.fillStyle = styles.color;
      const h = (x / 255) * height;
      g.fillRect(i * w, height - h, w - 2, h);
    }
  });
  return (
    <Box sx={{ mb: 1 }}>
      <Box sx={{ fontSize: '0.92rem', display: 'flex', justifyContent: 'space-between' }}>
        <span>
          universe {shownUniverse(universe)}, channels 1 to {shown}
        </span>
        <LiveText read={() => `${theEngine()?.received.packets(universe) ?? 0} packets`} />
      </Box>
      <Box
        component="canvas"
        ref={ref}
        role="img"
        aria-label={`Channels of universe ${shownUniverse(universe)} as received`}
        sx={(t) => ({
          width: '100%',
          height: 46,
          display: 'block',
          color: t.palette.mode === 'dark' ? t.ink.paper : t.ink.sheetText,
          '--off': t.ink.sheet,
        })}
      />
    </Box>
  );
}

/** What the conductor measures of itself. */
function analysisWords(): string {
  const engine = theEngine();
  if (!engine) return '';
  const cost = engine.control.get(Word.TickCost) / 1000,
    lost = engine.control.get(Word.Lost),
    gap = engine.control.get(Word.LongestGap) / 10;
  const late = engine.outputLatency;
  return `Analysis: a tick takes ${cost.toFixed(2)} of its ${HOP_MS.toFixed(2)} ms; ${lost} hops lost; longest pause ${gap.toFixed(0)} ms. A level is all there after two ticks, ${(2 * HOP_MS).toFixed(1)} ms.${late === null ? '' : ` The loudspeakers are ${(late * 1000).toFixed(0)} ms behind it.`}`;
}

/** How quick the way is, measured while it runs. */
function Timing() {
  const trip = useSession((s) => s.outlets?.packetMs ?? null);
  const gap = useSession((s) => s.outlets?.receiver?.largestGapMs ?? null);
  return (
    <Box
      component="section"
      aria-label="How quick it is"
      sx={(t) => ({ color: t.ink.sheetFaint, fontSize: '0.9rem', mt: 1 })}
    >
      <Box>
        <LiveText
          read={analysisWords}
          sx={(t) => ({ fontFamily: t.typography.fontFamily, whiteSpace: 'normal' })}
        />
      </Box>
      {trip === null
        ? 'No packet has come back yet.'
        : `From a value to its packet, decoded and back in this window: ${trip.toFixed(1)} ms (median). Largest pause between packets: ${gap} ms.`}
    </Box>
  );
}

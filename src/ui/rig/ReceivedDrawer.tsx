'use client';
import { Box } from '@mui/material';
import { useMemo } from 'react';
import { shownUniverse } from '../../core/lights';
import { type LampProtocol, PROTOCOL_WORDS } from '../../core/outlets';
import { HOP, SAMPLE_RATE } from '../../core/units';
import { Word } from '../../engine/memory/control';
import { useCanvas } from '../controls/canvas';
import { LiveText } from '../controls/LiveText';
import { Seen } from '../controls/Seen';
import { theEngine, useSession } from '../state/session';
import { heardBy } from './roomLamps';

const HOP_MS = (HOP / SAMPLE_RATE) * 1000;

/** What is really on the wires, channel by channel, as the receivers decoded it, and how quick it is. */
export function ReceivedDrawer() {
  const fixtures = useSession((s) => s.history.show.fixtures),
    wires = useSession((s) => s.history.show.wires);
  const heard = useMemo(
    () =>
      [...new Set(fixtures.map((f) => f.universe))]
        .sort((a, b) => a - b)
        .map((u) => [u, heardBy(wires, u)] as const),
    [fixtures, wires],
  );
  return (
    <>
      {heard.length === 0 && <Box sx={{ py: 1 }}>No lamp is patched, so nothing is sent.</Box>}
      {heard.map(([u, protocol]) =>
        protocol ? (
          <Seen key={u} style={{ minHeight: 84 }}>
            <Universe protocol={protocol} universe={u} />
          </Seen>
        ) : (
          <Box key={u} sx={{ py: 1 }}>
            Universe {shownUniverse(u)} goes to no simulated lamps, so it is not heard here.
          </Box>
        ),
      )}
      <Timing />
    </>
  );
}

/** The first channels of one universe as they arrived. */
function Universe({ protocol, universe }: { readonly protocol: LampProtocol; readonly universe: number }) {
  const shown = 48;
  const ref = useCanvas(({ g, width, height, styles }) => {
    const received = theEngine()?.received;
    const w = width / shown;
    for (let i = 0; i < shown; i++) {
      const x = received?.channel(protocol, universe, i + 1) ?? 0;
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
          {PROTOCOL_WORDS[protocol]} universe {shownUniverse(universe)}, channels 1 to {shown}
        </span>
        <LiveText read={() => `${theEngine()?.received.packets(protocol, universe) ?? 0} packets`} />
      </Box>
      <Box
        component="canvas"
        ref={ref}
        role="img"
        aria-label={`Channels of ${PROTOCOL_WORDS[protocol]} universe ${shownUniverse(universe)} as received`}
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
  const gap = useSession((s) => s.outlets?.receivers?.artnet.largestGapMs ?? null);
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
        : `From a value to its packet, decoded and back in this window: ${trip.toFixed(1)} ms (median). Largest pause between Art-Net packets: ${gap} ms.`}
    </Box>
  );
}

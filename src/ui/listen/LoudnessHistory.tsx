'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import type { Ear, Input } from '../../core/show';
import { gainToDb } from '../../core/units';
import { ReadChart, type ChartData } from '../controls/ReadChart';
import { LiveText } from '../controls/LiveText';
import { live } from '../live/live';
import { theEngine } from '../state/session';
import { signalText } from './names';

const READINGS = ['momentary', 'shortTerm', 'integrated', 'truePeak'] as const;
const EVERY_MS = 500;
const MOST = 1200;
const idOf = (reading: string): string => `loudness-of-${reading}`;

/** Loudness of one input by the broadcast standard, as long as it is looked at. */
export function LoudnessHistory({ input, onClose }: { readonly input: Input; readonly onClose: () => void }) {
  const past = useRef<{ momentary: number; shortTerm: number }[]>([]);
  const top = useRef(0);
  const [restarted, restart] = useState(0);
  useEffect(() => {
    // Ears of this window only: they are no part of the show.
    const ears: Ear[] = READINGS.map((reading): Ear => ({
      id: idOf(reading),
      name: reading,
      input: input.id,
      channel: 'sum',
      listening: { kind: 'level', reading },
    }));
    theEngine()?.setDrafts(ears, 'loudness');
    past.current = [];
    top.current = 0;
    const timer = setInterval(() => {
      const at = (r: string): number => gainToDb(Math.max(0, live.signal(idOf(r)) || 0));
      past.current.push({ momentary: at('momentary'), shortTerm: at('shortTerm') });
      if (past.current.length > MOST) past.current.shift();
    }, EVERY_MS);
    return () => {
      clearInterval(timer);
      theEngine()?.setDrafts([], 'loudness');
    };
  }, [input.id, restarted]);
  const read = (): ChartData => {
    const shown = (x: number): number | null => (x > -70 ? x : null);
    const n = past.current.length;
    return {
      labels: past.current.map((_, i) => {
        const s = ((n - 1 - i) * EVERY_MS) / 1000;
        return s === 0 ? 'now' : Number.isInteger(s) ? `−${s} s` : '';
      }),
      rows: [
        { values: past.current.map((p) => shown(p.momentary)), dash: [2, 3] },
        { values: past.current.map((p) => shown(p.shortTerm)) },
      ],
      low: -50,
      high: 0,
    };
  };
  const now = (reading: (typeof READINGS)[number]) => () => {
    const x = live.signal(idOf(reading));
    if (reading === 'truePeak') {
      if (x > top.current) top.current = x;
      return top.current > 0 ? `${gainToDb(top.current).toFixed(1)} dBTP`.replace('-', '−') : 'silent';
    }
    return signalText('loudness', x);
  };
  return (
    <Dialog
      open
      onClose={onClose}
      aria-labelledby="loudness-title"
      slotProps={{ paper: { sx: { p: 3, width: 760, maxWidth: 'calc(100vw - 32px)' } } }}
    >
      <Typography id="loudness-title" variant="h2">
        How loud {input.name} is
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 2, my: 1.5 }}>
        {(
          [
            ['momentary', 'momentary, 400 ms'],
            ['shortTerm', 'short-term, 3 s'],
            ['integrated', 'integrated'],
            ['truePeak', 'highest true peak'],
          ] as const
        ).map(([r, words]) => (
          <Box key={r}>
            <Box sx={{ fontSize: '0.88rem' }}>{words}</Box>
            <LiveText read={now(r)} sx={{ fontSize: '1.15rem', fontWeight: 700 }} label={words} />
          </Box>
        ))}
      </Box>
      <ReadChart
        kind="line"
        unit="LUFS"
        everyMs={EVERY_MS}
        label={`Loudness of ${input.name} over time: momentary dotted, short-term solid`}
        read={read}
        sx={{ height: 240 }}
      />
      <Box sx={{ fontSize: '0.88rem', mt: 0.5 }}>dotted: momentary · solid: short-term</Box>
      <Box sx={{ display: 'flex', mt: 1.5 }}>
        <Button variant="outlined" onClick={() => restart((n) => n + 1)}>
          Measure anew
        </Button>
        <Box sx={{ flex: 1 }} />
        <Button variant="text" onClick={onClose}>
          Close
        </Button>
      </Box>
    </Dialog>
  );
}

'use client';
import { Box, Button, Typography } from '@mui/material';
import { useEffect } from 'react';
import { create } from 'zustand';
import type { Act } from '../../core/acts';
import { getSetting, setSetting } from '../../data/database';
import { useSession, whenPerformed } from '../state/session';
import { goTo, PLACES, useView } from '../state/view';
import { type Start, STEPS } from './pathSteps';

/** Which step somebody is at; null: on no path. */
const usePath = create<{ readonly step: number | null }>(() => ({ step: null }));

const SETTING = 'first-path';
function goStep(step: number | null): void {
  usePath.setState({ step });
  void setSetting(SETTING, step).catch(() => undefined);
}
export const beginPath = (): void => goStep(0);
/** Goes on where it was before a reload. */
export function resumePath(): void {
  // One that was begun a moment ago may not be kept yet.
  void getSetting<number | null>(SETTING, null).then((step) => {
    if (usePath.getState().step === null) usePath.setState({ step });
  });
}

/** The first path: one step at a time, along the foot of the running show, done by doing it. */
export function FirstPath() {
  const step = usePath((p) => p.step),
    place = useView((v) => v.place);
  useEffect(() => {
    const now = step === null ? undefined : STEPS[step];
    if (!now) return;
    const stands = (): Start => {
      const { ears, routes } = useSession.getState().history.show;
      return { ears, routes };
    };
    const was = stands(),
      acts: Act[] = [];
    const look = (): void => {
      const { hands, dark } = useSession.getState();
      if (now.done(was, { ...stands(), hands: Object.keys(hands).length, dark, acts })) goStep(step! + 1);
    };
    const ends = [
      useSession.subscribe(look),
      whenPerformed((performed) => {
        acts.push(...performed.map((p) => p.act));
        look();
      }),
    ];
    return () => {
      for (const end of ends) end();
    };
  }, [step]);
  if (step === null) return null;
  const now = STEPS[step],
    there = now?.place === null || now?.place === place;
  return (
    <Box
      component="aside"
      aria-label="The first path"
      sx={(t) => ({
        gridColumn: 2,
        display: 'flex',
        alignItems: 'center',
        flexWrap: 'wrap',
        columnGap: 2,
        rowGap: 0.25,
        px: 2,
        py: 0.75,
        background: t.ink.now,
        color: t.ink.paperText,
      })}
    >
      <Typography variant="h3" component="h2" sx={{ fontSize: '1.15rem' }}>
        {now ? `${step + 1} of ${STEPS.length} · ${now.title}` : 'That is all of it'}
      </Typography>
      <Box role="status" sx={{ flex: '1 1 300px' }}>
        {now
          ? `${step > 0 ? 'Done. ' : ''}${now.words}`
          : 'Ctrl Z takes back what you tried. Under Show are small shows to look into; the key ? lists all keys.'}
      </Box>
      {now?.place && !there && (
        <Button variant="contained" onClick={() => goTo(now.place!)}>
          to {PLACES.find((p) => p.name === now.place)!.label}
        </Button>
      )}
      {now && (
        <Button variant="text" sx={{ color: 'inherit' }} onClick={() => goStep(step + 1)}>
          leave this step out
        </Button>
      )}
      <Button variant="text" sx={{ color: 'inherit' }} onClick={() => goStep(null)}>
        {now ? 'end the path' : 'Done'}
      </Button>
    </Box>
  );
}

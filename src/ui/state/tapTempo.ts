'use client';
import { useEffect } from 'react';
import { setTempo } from '../../core/show';
import { Taps } from '../frame/tempo';
import { edit, whenPerformed } from './session';

/** All taps count together, wherever they come from. */
const taps = new Taps();

/** One tap in time with the music: from the third on, the tempo is as they come. @param at - ms since the page began */
export function tapTempo(at: number): void {
  const bpm = taps.tap(at);
  if (bpm !== null) edit('tap the tempo', setTempo({ source: 'tapped', bpm }), 'tap');
}

/** Hears taps of phones and controllers, whatever place this window shows. */
export function useTapsHeard(): void {
  useEffect(
    () =>
      whenPerformed((performed) => {
        for (const { act, at } of performed) if (act.do === 'tap') tapTempo(at - performance.timeOrigin);
      }),
    [],
  );
}

'use client';
import { useEffect, useRef, useState, type CSSProperties } from 'react';
import type { FromPhone, SoughtLamp, ToPhone } from '../../core/protocols';

const AGAIN_MS = 1000;
const INK = '#14110f',
  PAPER = '#f2e9d4',
  MAIZE = '#f0b53c',
  SHEET = '#2b221a';
const press: CSSProperties = {
  font: '700 1.5rem "Bricolage Grotesque Variable", sans-serif',
  minHeight: 96,
  border: 'none',
  background: PAPER,
  color: INK,
  touchAction: 'manipulation',
};

/** Walking the rig with a phone: one lamp after the other is lit full and white, and named. It needs nothing but plain http. */
export function PhonePage() {
  const [lamp, setLamp] = useState<SoughtLamp | null>(null),
    [state, setState] = useState<'connecting' | 'live' | 'away'>('connecting');
  const socket = useRef<WebSocket | null>(null);
  useEffect(() => {
    let over = false,
      again: ReturnType<typeof setTimeout> | null = null;
    const connect = (): void => {
      const key = new URLSearchParams(location.search).get('key') ?? '',
        ws = new WebSocket(`ws://${location.host}/bridge?role=phone&key=${encodeURIComponent(key)}`);
      socket.current = ws;
      ws.onmessage = (e: MessageEvent<string>) => {
        const said = JSON.parse(e.data) as ToPhone;
        setLamp(said.lamp);
        setState(said.live ? 'live' : 'away');
      };
      ws.onclose = () => {
        if (over) return;
        setState('connecting');
        again = setTimeout(connect, AGAIN_MS);
      };
    };
    connect();
    return () => {
      over = true;
      if (again) clearTimeout(again);
      socket.current?.close();
    };
  }, []);
  const say = (act: FromPhone): void => {
    if (socket.current?.readyState === WebSocket.OPEN) socket.current.send(JSON.stringify(act));
  };
  const here = state === 'live';
  return (
    <main
      style={{
        minHeight: '100dvh',
        boxSizing: 'border-box',
        padding: 16,
        display: 'grid',
        gridTemplateRows: 'auto 1fr auto auto',
        gap: 16,
        background: INK,
        color: PAPER,
        fontFamily: '"Atkinson Hyperlegible", sans-serif',
      }}
    >
      <h1 style={{ margin: 0, font: '700 1.25rem "Bricolage Grotesque Variable", sans-serif' }}>
        Which lamp is it?
      </h1>
      <div
        role="status"
        style={{
          background: SHEET,
          padding: 16,
          display: 'grid',
          alignContent: 'center',
          gap: 8,
          minWidth: 0,
        }}
      >
        {lamp && here ? (
          <>
            <div style={{ fontSize: '1.25rem', color: MAIZE }}>
              {lamp.place} of {lamp.count} is lit
            </div>
            <div
              style={{
                font: '800 2.25rem/1.1 "Bricolage Grotesque Variable", sans-serif',
                overflowWrap: 'anywhere',
              }}
            >
              {lamp.name}
            </div>
            <div style={{ fontSize: '1.25rem', overflowWrap: 'anywhere' }}>{lamp.words}</div>
          </>
        ) : (
          <div style={{ fontSize: '1.25rem' }}>
            {here
              ? 'Press “next lamp”: it is lit full and white, until you go on.'
              : state === 'away'
                ? 'No control window drives the lamps. Open Batucada on its computer.'
                : 'The server does not answer. It is tried again. If this stays, scan the code anew.'}
          </div>
        )}
      </div>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 16 }}>
        <button style={press} disabled={!here} onClick={() => say({ type: 'step', by: -1 })}>
          the one before
        </button>
        <button
          style={{ ...press, background: MAIZE }}
          disabled={!here}
          onClick={() => say({ type: 'step', by: 1 })}
        >
          next lamp
        </button>
      </div>
      <button
        style={{ ...press, background: 'transparent', color: PAPER, border: `2px solid ${PAPER}` }}
        disabled={!here || !lamp}
        onClick={() => say({ type: 'off' })}
      >
        as the show has it
      </button>
    </main>
  );
}

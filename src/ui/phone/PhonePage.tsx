'use client';
import { useEffect, useRef, useState, type CSSProperties, type PointerEvent } from 'react';
import {
  phoneAct,
  type FromPhone,
  type PhoneNight,
  type PhonePerforms,
  type PhoneShown,
  type SoughtLamp,
  type ToPhone,
} from '../../core/protocols';

const AGAIN_MS = 1000,
  /** A slider says where it is so often at most. */
  SLIDE_EVERY_MS = 40;
const INK = '#14110f',
  PAPER = '#f2e9d4',
  MAIZE = '#f0b53c',
  SHEET = '#2b221a',
  TRACK = '#7d6c55';
const HEAD = '"Bricolage Grotesque Variable", sans-serif';
const press: CSSProperties = {
  font: `700 1.5rem ${HEAD}`,
  minHeight: 72,
  border: 'none',
  background: PAPER,
  color: INK,
  touchAction: 'manipulation',
};
const quiet: CSSProperties = { ...press, background: SHEET, color: PAPER };

type State = 'connecting' | 'live' | 'away';

/** A phone in the room: it performs the night, or walks the rig lamp by lamp. It needs nothing but plain http. */
export function PhonePage() {
  const [lamp, setLamp] = useState<SoughtLamp | null>(null),
    [night, setNight] = useState<PhoneNight | null>(null),
    [state, setState] = useState<State>('connecting'),
    [tab, setTab] = useState<'night' | 'lamps' | null>(null);
  const socket = useRef<WebSocket | null>(null);
  useEffect(() => {
    let over = false,
      again: ReturnType<typeof setTimeout> | null = null;
    const connect = (): void => {
      const key = new URLSearchParams(location.search).get('key') ?? '',
        ws = new WebSocket(`ws://${location.host}/bridge?role=phone&key=${encodeURIComponent(key)}`);
      socket.current = ws;
      const first = new URLSearchParams(location.search).has('lamps') ? 'lamps' : 'night';
      ws.onopen = () => setTab((chosen) => chosen ?? first);
      ws.onmessage = (e: MessageEvent<string>) => {
        const said = JSON.parse(e.data) as ToPhone;
        if (said.type === 'night') {
          setNight(said.night);
          return;
        }
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
        padding: 12,
        display: 'grid',
        gridTemplateRows: 'auto auto 1fr',
        gap: 12,
        background: INK,
        color: PAPER,
        fontFamily: '"Atkinson Hyperlegible", sans-serif',
      }}
    >
      <div role="tablist" style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
        {(
          [
            ['night', 'The night'],
            ['lamps', 'Which lamp?'],
          ] as const
        ).map(([id, label]) => (
          <button
            key={id}
            role="tab"
            aria-selected={tab === id}
            style={{ ...(tab === id ? press : quiet), minHeight: 56, fontSize: '1.25rem' }}
            onClick={() => setTab(id)}
          >
            {label}
          </button>
        ))}
      </div>
      {here ? (
        <span />
      ) : (
        <div role="status" style={{ fontSize: '1.25rem', background: SHEET, padding: 12 }}>
          {state === 'away'
            ? 'No control window drives the show. Open Batucada on its computer.'
            : 'The server does not answer. It is tried again. If this stays, scan the code anew.'}
        </div>
      )}
      {tab !== 'lamps' ? (
        <Night night={here ? night : null} perform={(act) => say({ type: 'act', act })} />
      ) : (
        <Lamps lamp={lamp} here={here} say={say} />
      )}
    </main>
  );
}

function Night({
  night,
  perform,
}: {
  readonly night: PhoneNight | null;
  readonly perform: (act: PhonePerforms) => void;
}) {
  if (!night) return <div />;
  return (
    <div style={{ display: 'grid', gap: 12, alignContent: 'start', minWidth: 0 }}>
      <h1 style={{ margin: 0, font: `800 1.4rem ${HEAD}`, overflowWrap: 'anywhere' }}>
        {night.now ?? night.name}
      </h1>
      <div style={{ display: 'grid', gridTemplateColumns: 'repeat(2, minmax(0, 1fr))', gap: 8 }}>
        {night.things.map((t) => (
          <Thing key={t.id} thing={t} perform={(value) => perform(phoneAct(t, value))} />
        ))}
      </div>
    </div>
  );
}

/** One thing of the page: a press, or a slider. */
function Thing({
  thing,
  perform,
}: {
  readonly thing: PhoneShown;
  readonly perform: (value: number) => void;
}) {
  const { deed, size, label, note, stands, able } = thing,
    place: CSSProperties = {
      gridColumn: size === 'half' ? 'auto' : '1 / -1',
      minHeight: size === 'large' ? 150 : 72,
    };
  if (deed.do === 'master' || deed.do === 'hand')
    return (
      <div style={{ ...place, minHeight: 0 }}>
        <Slider label={label} value={stands} tall={size === 'large'} onSlide={perform} />
      </div>
    );
  const lasts = deed.do === 'dark' || deed.do === 'freeze',
    taken = deed.do === 'look' || deed.do === 'cue',
    on = stands === 1;
  return (
    <button
      aria-pressed={lasts || taken ? on : undefined}
      disabled={!able}
      style={{
        ...(lasts || deed.do === 'go' || deed.do === 'tap' ? press : quiet),
        ...place,
        padding: 12,
        overflowWrap: 'anywhere',
        ...(lasts && on && { background: MAIZE }),
        ...(taken && { fontSize: '1.25rem', borderLeft: `8px solid ${on ? MAIZE : TRACK}` }),
      }}
      // A tap is when the finger comes down, not when it is lifted.
      onPointerDown={deed.do === 'tap' ? () => perform(1) : undefined}
      onClick={
        deed.do === 'tap'
          ? (e) => {
              if (e.detail === 0) perform(1);
            }
          : () => perform(1)
      }
    >
      <span style={deed.do === 'go' ? { fontSize: '3rem', fontWeight: 800, lineHeight: 1 } : undefined}>
        {label}
      </span>
      {note !== '' && (
        <span
          style={{
            display: 'block',
            font: '400 1.25rem "Atkinson Hyperlegible", sans-serif',
            whiteSpace: 'pre-line',
          }}
        >
          {' '}
          {note}
        </span>
      )}
    </button>
  );
}

/** A wide slider. While a finger is on it, it is where the finger is; else where the show says. */
function Slider({
  label,
  value,
  tall,
  onSlide,
}: {
  readonly label: string;
  readonly value: number;
  readonly tall: boolean;
  readonly onSlide: (value: number) => void;
}) {
  const [held, setHeld] = useState<number | null>(null),
    said = useRef(0);
  const shown = held ?? value;
  const set = (x: number, last: boolean): void => {
    const now = performance.now();
    if (!last && now - said.current < SLIDE_EVERY_MS) return;
    said.current = now;
    onSlide(x);
  };
  const to = (e: PointerEvent<HTMLElement>, last = false): void => {
    const box = e.currentTarget.getBoundingClientRect(),
      x = Math.round(Math.min(1, Math.max(0, (e.clientX - box.left) / box.width)) * 1000) / 1000;
    setHeld(x);
    set(x, last);
  };
  const step = (by: number): void => set(Math.min(1, Math.max(0, value + by)), true);
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(shown * 100)}
      onKeyDown={(e) => {
        if (e.key === 'ArrowRight' || e.key === 'ArrowUp') step(0.05);
        else if (e.key === 'ArrowLeft' || e.key === 'ArrowDown') step(-0.05);
        else if (e.key === 'Home') step(-1);
        else if (e.key === 'End') step(1);
      }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        to(e);
      }}
      onPointerMove={(e) => {
        if (held !== null) to(e);
      }}
      onPointerUp={(e) => {
        if (held !== null) to(e, true);
        setHeld(null);
      }}
      onPointerCancel={() => setHeld(null)}
      style={{
        position: 'relative',
        height: tall ? 150 : 72,
        background: SHEET,
        touchAction: 'none',
        cursor: 'ew-resize',
      }}
    >
      <div
        style={{
          position: 'absolute',
          inset: '44px auto 0 0',
          width: `${shown * 100}%`,
          background: PAPER,
          borderRight: `12px solid ${MAIZE}`,
          boxSizing: 'border-box',
        }}
      />
      <div
        style={{
          position: 'absolute',
          inset: '8px 12px auto',
          display: 'flex',
          justifyContent: 'space-between',
          font: `700 1.25rem ${HEAD}`,
          pointerEvents: 'none',
        }}
      >
        <span>{label}</span> <span>{Math.round(shown * 100)} %</span>
      </div>
    </div>
  );
}

function Lamps({
  lamp,
  here,
  say,
}: {
  readonly lamp: SoughtLamp | null;
  readonly here: boolean;
  readonly say: (act: FromPhone) => void;
}) {
  return (
    <div style={{ display: 'grid', gridTemplateRows: 'auto 1fr auto auto', gap: 12, minWidth: 0 }}>
      <h1 style={{ margin: 0, font: `700 1.25rem ${HEAD}` }}>Which lamp is it?</h1>
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
            <div style={{ font: `800 2.25rem/1.1 ${HEAD}`, overflowWrap: 'anywhere' }}>{lamp.name}</div>
            <div style={{ fontSize: '1.25rem', overflowWrap: 'anywhere' }}>{lamp.words}</div>
          </>
        ) : (
          <div style={{ fontSize: '1.25rem' }}>
            Press “next lamp”: it is lit full and white, until you go on.
          </div>
        )}
      </div>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 12 }}>
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
    </div>
  );
}

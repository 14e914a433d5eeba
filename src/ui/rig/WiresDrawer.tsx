'use client';
import { Box, Button, MenuItem, Select, Switch, Typography } from '@mui/material';
import { useState } from 'react';
import { shownUniverse, UNIVERSE_MAX } from '../../core/lights';
import {
  LAMP_PROTOCOLS,
  type LampProtocol,
  PROTOCOL_PORT,
  PROTOCOL_WORDS,
  type SafeState,
  type WireTarget,
} from '../../core/outlets';
import { isHostName } from '../../core/protocols';
import { addWire, changeWire, freeId, freeName, removeWire, type Wire } from '../../core/show';
import { Choice } from '../controls/Choice';
import { NumberField } from '../controls/NumberField';
import { Sheet } from '../controls/Sheet';
import { allowQuickFlashes, arm, currentShow, edit, endDrag, theEngine, useSession } from '../state/session';
import { FONT } from '../theme/tokens';
import { Desks } from './Desks';

/** The ways out to lamps: where each goes, how it is, and what its lamps do without a show. */
export function WiresDrawer() {
  const wires = useSession((s) => s.history.show.wires),
    armed = useSession((s) => s.armed),
    quick = useSession((s) => s.quick);
  const add = (): void => {
    const show = currentShow();
    edit(
      'add a wire',
      addWire({
        id: freeId(show, 'wire'),
        name: freeName(show.wires, 'Wire'),
        protocol: 'sacn',
        universes: null,
        target: { kind: 'simulated' },
        priority: 100,
        sync: false,
        rate: 44,
        keepAlive: 800,
        safe: { then: 'hold' },
      }),
    );
  };
  return (
    <>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', columnGap: 2, pb: 0.5 }}>
        <Allowed
          label="Arm outputs beyond this computer"
          help="Packets leave this computer only while this is on. It is off at every start."
          on={armed}
          set={arm}
        />
        <Allowed
          label="Allow quick flashes"
          help="Strobes may flash more than three times a second. Say so at the door. It is off at every start."
          on={quick}
          set={allowQuickFlashes}
        />
        <Box sx={{ flex: 1 }} />
        <Button variant="text" onClick={add}>
          + wire
        </Button>
      </Box>
      {wires.length === 0 && <Box sx={{ py: 1 }}>No wire: nothing goes out to lamps. Press “+ wire”.</Box>}
      {wires.map((w) => (
        <WireStrip key={w.id} wire={w} />
      ))}
      <Desks />
    </>
  );
}

function Allowed({
  label,
  help,
  on,
  set,
}: {
  readonly label: string;
  readonly help: string;
  readonly on: boolean;
  readonly set: (on: boolean) => void;
}) {
  return (
    <Box component="label" title={help} sx={{ display: 'flex', alignItems: 'center', minHeight: 36 }}>
      {label.charAt(0).toLowerCase() + label.slice(1)}
      <Switch
        size="small"
        checked={on}
        onChange={(e) => set(e.target.checked)}
        slotProps={{ input: { 'aria-label': label } }}
      />
    </Box>
  );
}

const TARGETS: Readonly<Record<LampProtocol, readonly (readonly [WireTarget['kind'], string])[]>> = {
  artnet: [
    ['simulated', 'to the simulated lamps'],
    ['network', 'to an address'],
    ['nodes', 'to the nodes that answer'],
  ],
  sacn: [
    ['simulated', 'to the simulated lamps'],
    ['network', 'to an address'],
    ['multicast', 'to each universe’s group'],
  ],
};
function targetOf(kind: WireTarget['kind'], protocol: LampProtocol): WireTarget {
  const port = PROTOCOL_PORT[protocol];
  switch (kind) {
    case 'network':
      return { kind, host: '127.0.0.1', port };
    case 'nodes':
      return { kind, host: '255.255.255.255', port };
    case 'multicast':
      return { kind, from: null };
    case 'simulated':
      return { kind };
  }
}

function WireStrip({ wire }: { readonly wire: Wire }) {
  const report = useSession((s) => s.outlets),
    many = useSession((s) => s.history.show.wires.length > 1);
  const state = report?.wires.find((w) => w.id === wire.id);
  const receiver = report?.receivers?.[wire.protocol];
  const streams = report?.streams.filter((s) => s.id.startsWith(`lamps ${wire.id} `)) ?? [];
  const trouble =
    report?.link === 'driving'
      ? (state?.trouble ?? report.why)
      : (report?.why ?? 'Connecting to the bridge …');
  const { target, protocol } = wire;
  const change = (next: Partial<Omit<Wire, 'id'>>, mark: string | null = null): void =>
    edit(`change ${wire.name}`, changeWire(wire.id, next), mark && `${mark} ${wire.id}`);
  const pull = (pulled: boolean): void => {
    void fetch(`/bridge/receiver?protocol=${protocol}&pulled=${pulled ? 'yes' : 'no'}`, { method: 'POST' });
  };
  return (
    <Sheet
      name={wire.id}
      warned={trouble !== null}
      sx={{ p: 1.5, mb: 1 }}
      role="group"
      aria-label={wire.name}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', columnGap: 2, rowGap: 0.5, flexWrap: 'wrap' }}>
        <Typography variant="h3" component="h3">
          {wire.name}: {PROTOCOL_WORDS[protocol]}
        </Typography>
        <Choice<LampProtocol>
          label="speaks"
          name={`Protocol of ${wire.name}`}
          value={protocol}
          options={LAMP_PROTOCOLS.map((p) => [p, PROTOCOL_WORDS[p]])}
          onChange={(next) =>
            change({
              protocol: next,
              target: TARGETS[next].some(([kind]) => kind === target.kind)
                ? target.kind === 'network'
                  ? { ...target, port: PROTOCOL_PORT[next] }
                  : target
                : { kind: 'simulated' },
            })
          }
        />
        <Select
          size="small"
          value={target.kind}
          inputProps={{ 'aria-label': `Where the packets of ${wire.name} go` }}
          onChange={(e) => change({ target: targetOf(e.target.value as WireTarget['kind'], protocol) })}
        >
          {TARGETS[protocol].map(([kind, words]) => (
            <MenuItem key={kind} value={kind}>
              {words}
            </MenuItem>
          ))}
        </Select>
        {(target.kind === 'network' || target.kind === 'nodes') && (
          <HostFields
            label={target.kind === 'nodes' ? 'Address that is asked' : 'Address of the node'}
            host={target.host}
            onHost={(host) => change({ target: { ...target, host } })}
            port={target.port}
            usual={PROTOCOL_PORT[protocol]}
            onPort={(port) => change({ target: { ...target, port } }, 'port')}
          />
        )}
        {target.kind === 'multicast' && (
          <HostFields
            label="Address of this computer’s interface"
            host={target.from ?? ''}
            empty="the system’s choice"
            onHost={(host) => change({ target: { ...target, from: host || null } })}
          />
        )}
        <UniverseFields wire={wire} onChange={change} />
        <span>at most</span>
        <NumberField
          label={`Packets a second at most of ${wire.name}`}
          value={wire.rate}
          unit="/s"
          min={1}
          max={44}
          step={1}
          usual={40}
          onChange={(rate) => change({ rate }, 'rate')}
          onEnd={endDrag}
        />
        {protocol === 'sacn' && (
          <>
            <span>priority</span>
            <NumberField
              label={`Priority of ${wire.name}`}
              value={wire.priority}
              unit=""
              min={0}
              max={200}
              step={1}
              usual={100}
              onChange={(x) => change({ priority: Math.round(x) }, 'priority')}
              onEnd={endDrag}
            />
          </>
        )}
        <Allowed
          label="All universes at once"
          help="Nodes that know how show all universes of this wire at the same moment."
          on={wire.sync}
          set={(sync) => change({ sync })}
        />
        <SafeFields wire={wire} />
        {many && (
          <Button
            variant="text"
            aria-label={`Remove ${wire.name}`}
            onClick={() => edit(`remove ${wire.name}`, removeWire(wire.id))}
          >
            remove
          </Button>
        )}
      </Box>
      <Box role="status" sx={{ fontFamily: FONT.number, fontSize: '0.88rem', mt: 0.75 }}>
        {trouble ?? (
          <>
            sends to {state?.address} · {state?.packets} packets
            {streams.length > 0 &&
              ` · ${Math.round(streams.reduce((n, s) => n + s.rate, 0))}/s, the latest at most ${Math.max(...streams.map((s) => s.late))} ms late`}
            {state?.errors ? ` · ${state.errors} errors` : ''}
            {report?.restarts ? ` · started again ${report.restarts} times` : ''}
            {protocol === 'artnet' &&
              (report?.nodes.length
                ? ` · ${report.nodes.map((n) => `“${n.longName}” answers the poll`).join(', ')}`
                : ' · no node has answered the poll yet')}
          </>
        )}
      </Box>
      {report?.link === 'busy' && (
        <Button variant="contained" sx={{ mt: 1 }} onClick={() => theEngine()?.takeLamps()}>
          Take over here
        </Button>
      )}
      {target.kind === 'simulated' && receiver && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, mt: 0.75, flexWrap: 'wrap' }}>
          <Box sx={{ fontFamily: FONT.number, fontSize: '0.88rem' }}>
            simulated lamps at {receiver.address}: {receiver.packets} packets decoded, {receiver.bad} refused
            {protocol === 'artnet' ? `, ${receiver.polls} polls answered` : ''}
          </Box>
          <Button variant="outlined" aria-pressed={receiver.pulled} onClick={() => pull(!receiver.pulled)}>
            {receiver.pulled
              ? `Plug the ${PROTOCOL_WORDS[protocol]} cable in`
              : `Pull the ${PROTOCOL_WORDS[protocol]} cable`}
          </Button>
        </Box>
      )}
    </Sheet>
  );
}

function UniverseFields({
  wire: { name, universes },
  onChange,
}: {
  readonly wire: Wire;
  readonly onChange: (next: Partial<Omit<Wire, 'id'>>, mark?: string | null) => void;
}) {
  const end = (which: 'from' | 'to', label: string) =>
    universes && (
      <NumberField
        label={`${label} universe of ${name}`}
        value={shownUniverse(universes[which])}
        unit=""
        min={shownUniverse(0)}
        max={shownUniverse(UNIVERSE_MAX)}
        step={1}
        onChange={(x) => {
          const u = Math.round(x) - shownUniverse(0);
          onChange(
            {
              universes:
                which === 'from'
                  ? { from: u, to: Math.max(u, universes.to) }
                  : { from: Math.min(u, universes.from), to: u },
            },
            `universe ${which}`,
          );
        }}
        onEnd={endDrag}
      />
    );
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75 }}>
      <Choice
        label="carries"
        name={`Universes of ${name}`}
        value={universes ? 'some' : 'all'}
        options={[
          ['all', 'all universes'],
          ['some', 'universes'],
        ]}
        onChange={(v) => onChange({ universes: v === 'all' ? null : { from: 0, to: 0 } })}
      />
      {universes && (
        <>
          {end('from', 'First')} to {end('to', 'Last')}
        </>
      )}
    </Box>
  );
}

function HostFields({
  label,
  host,
  empty,
  onHost,
  port,
  usual,
  onPort,
}: {
  readonly label: string;
  readonly host: string;
  /** What it is without one; absent: it must have one. */
  readonly empty?: string;
  readonly onHost: (host: string) => void;
  readonly port?: number;
  readonly usual?: number;
  readonly onPort?: (port: number) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed?.trim() ?? '';
  const wrong = typed !== null && !isHostName(text) && !(text === '' && empty !== undefined);
  return (
    <>
      <Box
        component="input"
        aria-label={label}
        aria-invalid={wrong}
        placeholder={empty}
        value={typed ?? host}
        onFocus={(e) => e.currentTarget.select()}
        onChange={(e) => setTyped(e.currentTarget.value)}
        onBlur={() => {
          if (typed !== null && !wrong && text !== host) onHost(text);
          setTyped(null);
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
      {port !== undefined && onPort && (
        <NumberField
          label="UDP port"
          value={port}
          unit=""
          min={1}
          max={65535}
          step={1}
          usual={usual}
          onChange={(v) => onPort(Math.round(v))}
        />
      )}
    </>
  );
}

const SAFE_WORDS: Readonly<Record<SafeState['then'], string>> = {
  hold: 'hold the last values',
  rest: 'fade to rest',
  dark: 'fade to dark',
};
/** What the lamps of a wire do when the show is not heard of any more. */
function SafeFields({ wire: { id, name, safe } }: { readonly wire: Wire }) {
  const set = (next: SafeState, mark: string | null = null): void =>
    edit('change a wire’s safe state', changeWire(id, { safe: next }), mark);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
      <span>without a show</span>
      <Select
        size="small"
        value={safe.then}
        inputProps={{ 'aria-label': `What the lamps of ${name} do without a show` }}
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

'use client';
import { Box, Button } from '@mui/material';
import { useEffect, useState } from 'react';
import {
  BUNDLE_AFTER_MOST,
  isOscAddress,
  type MessageForm,
  MIDI_SAYS,
  type MidiForm,
  OSC_TYPES,
  type OscForm,
  type OscType,
} from '../../core/messages';
import { isHostName } from '../../core/protocols';
import {
  addMessage,
  changeMessage,
  freeId,
  freeName,
  type Message,
  removeThing,
  renameThing,
  thingsOf,
} from '../../core/show';
import type { OutletReport } from '../../engine/memory/messages';
import type { MidiDevice } from '../../engine/midi';
import { listInstruments, type MidiSaid, SIMULATED_INSTRUMENT } from '../../engine/midiOut';
import { Choice } from '../controls/Choice';
import { EntryField } from '../controls/EntryField';
import { NumberField } from '../controls/NumberField';
import { ThingPanel } from '../controls/ThingPanel';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import { FONT } from '../theme/tokens';
import { RIG_TABLE, RowName } from './table';

const newOsc = (n: string): MessageForm => ({
  kind: 'osc',
  target: { kind: 'simulated' },
  address: `/batucada/${n}`,
  type: 'float',
  low: 0,
  high: 1,
});
const newMidi = (): MessageForm => ({
  kind: 'midi',
  device: SIMULATED_INSTRUMENT.id,
  deviceName: SIMULATED_INSTRUMENT.name,
  says: 'controller',
  channel: 1,
  number: 1,
  holdMs: 100,
});

interface Row {
  readonly what: string;
  readonly to: string;
  readonly trouble: string | null;
  readonly state: string;
  readonly heard: string;
}
function rowOf({ id, form }: Message, report: OutletReport | null, midi: MidiSaid | null): Row {
  if (form.kind === 'midi')
    return {
      what: form.says === 'clock' ? 'clock' : `${form.says} ${form.number}`,
      to: form.says === 'clock' ? `to ${form.deviceName}` : `on channel ${form.channel}, ${form.deviceName}`,
      trouble: midi?.trouble ?? null,
      state: `${midi?.sent ?? 0} sent`,
      heard:
        form.says === 'clock'
          ? midi?.tempo
            ? `${midi.tempo.toFixed(1)} a minute`
            : '–'
          : midi?.heard
            ? `${midi.heard[2]} · ${midi.sent}`
            : '–',
    };
  const { target, address } = form,
    state = report?.messages.find((s) => s.id === `message ${id}`),
    heard = target.kind === 'simulated' ? report?.heard.find(([a]) => a === address) : undefined;
  return {
    what: address,
    to: target.kind === 'simulated' ? 'to the simulated receiver' : `at ${target.host}:${target.port}`,
    trouble: state?.trouble ?? null,
    state: `${state?.sent ?? 0} sent${state?.errors ? `, ${state.errors} errors` : ''}`,
    heard: heard ? `${Math.round(heard[1] * 1000) / 1000} · ${heard[2]}` : '–',
  };
}

/** What other programs and devices are told: each a thing that signals move. */
export function MessagesDrawer({
  chosen,
  onChoose,
}: {
  readonly chosen: string | null;
  readonly onChoose: (id: string) => void;
}) {
  const messages = useSession((s) => s.history.show.messages),
    report = useSession((s) => s.outlets),
    midi = useSession((s) => s.midiSaid);
  const add = (form: (n: string) => MessageForm): void => {
    const show = currentShow(),
      id = freeId(show, 'message'),
      name = freeName(show.messages, 'Message');
    edit(
      'add a message',
      addMessage({
        id,
        name,
        rest: {},
        form: form(id.slice('message-'.length)),
      }),
    );
    onChoose(id);
  };
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <Box sx={{ flex: 1 }}>Any signal can move another program: each change is sent, and each hit.</Box>
        <Button variant="text" onClick={() => add(newOsc)}>
          + OSC message
        </Button>
        <Button variant="text" onClick={() => add(newMidi)}>
          + MIDI message
        </Button>
      </Box>
      {messages.length === 0 && (
        <Box sx={{ py: 1 }}>Nothing is said yet. Press “+ OSC message” or “+ MIDI message”.</Box>
      )}
      {messages.length > 0 && (
        <Box component="table" aria-label="Messages" sx={RIG_TABLE}>
          <thead>
            <tr>
              <th scope="col">message</th>
              <th scope="col">to</th>
              <th scope="col">how it is</th>
              <th scope="col">received</th>
              <th scope="col">
                <span style={{ position: 'absolute', clipPath: 'inset(50%)' }}>remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {messages.map((m) => {
              const row = rowOf(m, report, midi[m.id] ?? null);
              return (
                <tr key={m.id}>
                  <td>
                    <RowName name={m.name} on={m.id === chosen} onPress={() => onChoose(m.id)} />
                  </td>
                  <td>
                    <Box component="span" sx={{ fontFamily: FONT.number }}>
                      {row.what}
                    </Box>{' '}
                    {row.to}
                  </td>
                  <td>
                    <Box role={row.trouble ? 'alert' : undefined}>{row.trouble ?? row.state}</Box>
                  </td>
                  <td>
                    <Box component="span" sx={{ fontFamily: FONT.number }}>
                      {row.heard}
                    </Box>
                  </td>
                  <td>
                    <Button
                      variant="text"
                      aria-label={`Remove ${m.name}`}
                      onClick={() => edit(`remove ${m.name}`, removeThing(m.id))}
                    >
                      remove
                    </Button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </Box>
      )}
    </>
  );
}

/** Everything about one message: where it goes, what is sent, and its parameters like a lamp's. */
export function MessagePanel({ message }: { readonly message: Message }) {
  const show = useSession((s) => s.history.show),
    thing = thingsOf(show).find((t) => t.id === message.id);
  if (!thing) return null;
  const { form } = message;
  return (
    <ThingPanel
      thing={thing}
      onRename={(name) => edit('rename a message', renameThing(thing.id, name))}
      before={
        <Box
          sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center', pb: 1, fontSize: '0.9rem' }}
        >
          {form.kind === 'osc' ? (
            <OscFields message={message} form={form} />
          ) : (
            <MidiFields message={message} form={form} />
          )}
        </Box>
      }
    />
  );
}

const change = ({ id, name }: Message, form: MessageForm, mark: string | null = null): void =>
  edit(`change ${name}`, changeMessage(id, form), mark && `${mark} ${id}`);

function OscFields({ message, form }: { readonly message: Message; readonly form: OscForm }) {
  const { target } = form;
  const set = (next: Partial<OscForm>, mark: string | null = null): void =>
    change(message, { ...form, ...next }, mark);
  return (
    <>
      <Choice
        label="goes"
        name={`Where ${message.name} goes`}
        value={target.kind}
        options={[
          ['simulated', 'to the simulated receiver'],
          ['network', 'to an address'],
        ]}
        onChange={(kind) =>
          set({ target: kind === 'network' ? { kind, host: '127.0.0.1', port: 8000 } : { kind } })
        }
      />
      {target.kind === 'network' && (
        <>
          <EntryField
            label="Address of the program"
            value={target.host}
            read={(text) => (isHostName(text.trim()) ? text.trim() : null)}
            wrong="An address such as 10.0.0.5."
            onChange={(host) => set({ target: { ...target, host } })}
          />
          <NumberField
            label="UDP port of the program"
            value={target.port}
            unit=""
            min={1}
            max={65535}
            step={1}
            usual={8000}
            onChange={(port) => set({ target: { ...target, port: Math.round(port) } }, 'port')}
            onEnd={endDrag}
          />
        </>
      )}
      <EntryField
        label="OSC address"
        value={form.address}
        read={(text) => (isOscAddress(text.trim()) ? text.trim() : null)}
        wrong="It begins with a slash, such as /deck/level, without spaces."
        width={220}
        onChange={(address) => set({ address })}
      />
      <Choice<OscType>
        label="as"
        name="Type of number"
        value={form.type}
        options={OSC_TYPES.map((t) => [t, t === 'float' ? 'a number' : 'a whole number'])}
        onChange={(type) => set({ type })}
      />
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
        <span>from</span>
        <NumberField
          label="Number at 0 %"
          value={form.low}
          unit=""
          min={-1e6}
          max={1e6}
          step={form.type === 'int' ? 1 : 0.01}
          usual={0}
          onChange={(low) => set({ low }, 'low')}
          onEnd={endDrag}
        />
        <span>to</span>
        <NumberField
          label="Number at 100 %"
          value={form.high}
          unit=""
          min={-1e6}
          max={1e6}
          step={form.type === 'int' ? 1 : 0.01}
          usual={1}
          onChange={(high) => set({ high }, 'high')}
          onEnd={endDrag}
        />
      </Box>
      <Choice
        label="packed"
        name="How it is packed"
        value={!form.bundle ? 'plain' : form.bundle.afterMs === null ? 'bundle' : 'timed'}
        options={[
          ['plain', 'as a plain message'],
          ['bundle', 'in a bundle, followed at once'],
          ['timed', 'in a bundle with its time'],
        ]}
        onChange={(how) =>
          set({ bundle: how === 'plain' ? undefined : { afterMs: how === 'timed' ? 50 : null } })
        }
      />
      {form.bundle && form.bundle.afterMs !== null && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
          <span>followed after</span>
          <NumberField
            label="Followed after"
            value={form.bundle.afterMs}
            unit="ms"
            min={0}
            max={BUNDLE_AFTER_MOST}
            step={1}
            usual={50}
            onChange={(afterMs) => set({ bundle: { afterMs } }, 'after')}
            onEnd={endDrag}
          />
        </Box>
      )}
    </>
  );
}

const SAYS: Readonly<Record<MidiForm['says'], string>> = {
  controller: 'controller',
  note: 'note at each strike',
  clock: 'clock',
};

function MidiFields({ message, form }: { readonly message: Message; readonly form: MidiForm }) {
  const [devices, setDevices] = useState<readonly MidiDevice[]>([]);
  useEffect(() => {
    let here = true;
    void listInstruments().then((all) => {
      if (here) setDevices(all);
    });
    return () => {
      here = false;
    };
  }, []);
  const set = (next: Partial<MidiForm>, mark: string | null = null): void =>
    change(message, { ...form, ...next }, mark);
  const offered = devices.some((d) => d.id === form.device)
    ? devices
    : [...devices, { id: form.device, name: form.deviceName }];
  const whole = (
    label: string,
    key: 'channel' | 'number' | 'holdMs',
    min: number,
    max: number,
    unit = '',
  ) => (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
      <span>{label}</span>
      <NumberField
        label={`MIDI ${label}`}
        value={form[key]}
        unit={unit}
        min={min}
        max={max}
        step={1}
        onChange={(x) => set({ [key]: Math.round(x) }, key)}
        onEnd={endDrag}
      />
    </Box>
  );
  return (
    <>
      <Choice
        label="tells"
        name={`Instrument of ${message.name}`}
        value={form.device}
        options={offered.map((d) => [d.id, d.name] as const)}
        onChange={(id) => set({ device: id, deviceName: offered.find((d) => d.id === id)?.name ?? id })}
      />
      <Button
        variant="text"
        onClick={() => void listInstruments(true).then(setDevices)}
        sx={{ color: 'inherit' }}
      >
        look for instruments
      </Button>
      <Choice
        label="a"
        name="What it is told"
        value={form.says}
        options={MIDI_SAYS.map((x) => [x, SAYS[x]] as const)}
        onChange={(says) => set({ says })}
      />
      {form.says !== 'clock' && whole('channel', 'channel', 1, 16)}
      {form.says !== 'clock' && whole('number', 'number', 0, 127)}
      {form.says === 'clock' && <span>The show’s beat: it starts with a bar, and stops with the beat.</span>}
      {form.says === 'note' && whole('for', 'holdMs', 1, 60000, 'ms')}
    </>
  );
}

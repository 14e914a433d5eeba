'use client';
import { Box, Button } from '@mui/material';
import { isOscAddress, OSC_TYPES, type OscType } from '../../core/messages';
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
import { Choice } from '../controls/Choice';
import { EntryField } from '../controls/EntryField';
import { NumberField } from '../controls/NumberField';
import { ThingPanel } from '../controls/ThingPanel';
import { currentShow, edit, endDrag, useSession } from '../state/session';
import { FONT } from '../theme/tokens';

/** What other programs are told, over OSC: each a thing that signals move. */
export function MessagesDrawer({
  chosen,
  onChoose,
}: {
  readonly chosen: string | null;
  readonly onChoose: (id: string) => void;
}) {
  const messages = useSession((s) => s.history.show.messages),
    report = useSession((s) => s.outlets);
  const add = (): void => {
    const show = currentShow(),
      id = freeId(show, 'message'),
      name = freeName(show.messages, 'Message');
    edit(
      'add a message',
      addMessage({
        id,
        name,
        rest: {},
        form: {
          kind: 'osc',
          target: { kind: 'simulated' },
          address: `/batucada/${id.slice('message-'.length)}`,
          type: 'float',
          low: 0,
          high: 1,
        },
      }),
    );
    onChoose(id);
  };
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <Box sx={{ flex: 1 }}>
          Any signal can move another program, over OSC. Each change is sent, and each hit.
        </Box>
        <Button variant="text" onClick={add}>
          + message
        </Button>
      </Box>
      {messages.length === 0 && <Box sx={{ py: 1 }}>Nothing is said yet. Press “+ message”.</Box>}
      {messages.length > 0 && (
        <Box
          component="table"
          aria-label="Messages"
          sx={(t) => ({
            width: '100%',
            borderCollapse: 'collapse',
            '& th': { textAlign: 'left', fontWeight: 400, color: t.ink.sheetFaint, pb: 0.5, pr: 2 },
            '& td': { borderTop: `2px solid ${t.ink.sheet}`, py: 0.5, pr: 2 },
          })}
        >
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
              const { target, address } = m.form,
                state = report?.messages.find((s) => s.id === `message ${m.id}`),
                heard = target.kind === 'simulated' ? report?.heard.find(([a]) => a === address) : undefined;
              return (
                <tr key={m.id}>
                  <td>
                    <Box
                      component="button"
                      aria-pressed={m.id === chosen}
                      onClick={() => onChoose(m.id)}
                      sx={(t) => ({
                        all: 'unset',
                        cursor: 'pointer',
                        fontWeight: 700,
                        minHeight: 36,
                        display: 'inline-flex',
                        alignItems: 'center',
                        boxShadow: m.id === chosen ? `inset 0 -4px 0 ${t.ink.selected}` : 'none',
                        '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
                      })}
                    >
                      {m.name}
                    </Box>
                  </td>
                  <td>
                    <Box component="span" sx={{ fontFamily: FONT.number }}>
                      {address}
                    </Box>{' '}
                    {target.kind === 'simulated'
                      ? 'to the simulated receiver'
                      : `at ${target.host}:${target.port}`}
                  </td>
                  <td>
                    <Box role={state?.trouble ? 'alert' : undefined}>
                      {state?.trouble ??
                        `${state?.sent ?? 0} sent${state?.errors ? `, ${state.errors} errors` : ''}`}
                    </Box>
                  </td>
                  <td>
                    <Box component="span" sx={{ fontFamily: FONT.number }}>
                      {heard ? `${Math.round(heard[1] * 1000) / 1000} · ${heard[2]}` : '–'}
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
  const { form } = message,
    { target } = form;
  const change = (next: Partial<Message['form']>, mark: string | null = null): void =>
    edit(`change ${message.name}`, changeMessage(message.id, next), mark && `${mark} ${message.id}`);
  return (
    <ThingPanel
      thing={thing}
      onRename={(name) => edit('rename a message', renameThing(thing.id, name))}
      before={
        <Box
          sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center', pb: 1, fontSize: '0.9rem' }}
        >
          <Choice
            label="goes"
            name={`Where ${message.name} goes`}
            value={target.kind}
            options={[
              ['simulated', 'to the simulated receiver'],
              ['network', 'to an address'],
            ]}
            onChange={(kind) =>
              change({ target: kind === 'network' ? { kind, host: '127.0.0.1', port: 8000 } : { kind } })
            }
          />
          {target.kind === 'network' && (
            <>
              <EntryField
                label="Address of the program"
                value={target.host}
                read={(text) => (isHostName(text.trim()) ? text.trim() : null)}
                wrong="An address such as 10.0.0.5."
                onChange={(host) => change({ target: { ...target, host } })}
              />
              <NumberField
                label="UDP port of the program"
                value={target.port}
                unit=""
                min={1}
                max={65535}
                step={1}
                usual={8000}
                onChange={(port) => change({ target: { ...target, port: Math.round(port) } }, 'port')}
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
            onChange={(address) => change({ address })}
          />
          <Choice<OscType>
            label="as"
            name="Type of number"
            value={form.type}
            options={OSC_TYPES.map((t) => [t, t === 'float' ? 'a number' : 'a whole number'])}
            onChange={(type) => change({ type })}
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
              onChange={(low) => change({ low }, 'low')}
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
              onChange={(high) => change({ high }, 'high')}
              onEnd={endDrag}
            />
          </Box>
        </Box>
      }
    />
  );
}

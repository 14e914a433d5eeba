'use client';
import { Box, Button, Menu, Typography } from '@mui/material';
import { useState } from 'react';
import { setTempo, type Tempo } from '../../core/show';
import { tempoSignal } from '../../core/plan';
import { Choice } from '../controls/Choice';
import { LiveText } from '../controls/LiveText';
import { NumberField } from '../controls/NumberField';
import { live } from '../live/live';
import { currentShow, edit, endDrag, useSession, perform } from '../state/session';

export const SOURCE_WORDS: Readonly<Record<Tempo['source'], string>> = {
  found: 'found by listening',
  tapped: 'tapped',
  typed: 'typed',
  known: 'known from the files',
  midi: 'MIDI clock',
};

/** Half, once, double: one key goes round. */
export function nextMultiple(): void {
  const { multiple, source, bpm } = currentShow().tempo;
  if (source === 'found')
    edit('halve or double the tempo', setTempo({ multiple: multiple === 1 ? 2 : multiple === 2 ? 0.5 : 1 }));
  else if (source === 'typed' || source === 'tapped')
    edit('halve or double the tempo', setTempo({ bpm: bpm > 160 ? bpm / 4 : bpm * 2 }));
}

/** Who owns the tempo, and what can be set about it. */
export function TempoMenu() {
  const tempo = useSession((s) => s.history.show.tempo);
  const inputs = useSession((s) => s.history.show.inputs);
  const [at, setAt] = useState<HTMLElement | null>(null);
  const set = (label: string, change: Partial<Tempo>, mark: string | null = null): void =>
    edit(label, setTempo(change), mark);
  const bpmNow = (): number => Math.round((live.signal(tempoSignal('bpm')) || tempo.bpm) * 10) / 10;
  return (
    <>
      <Button
        variant="text"
        aria-haspopup="menu"
        aria-label="Tempo: who owns it"
        onClick={(e) => setAt(e.currentTarget)}
        sx={{ minWidth: 32, width: 32, minHeight: 32, p: 0, fontSize: '1.1rem' }}
      >
        ▾
      </Button>
      <Menu
        anchorEl={at}
        open={at !== null}
        onClose={() => setAt(null)}
        slotProps={{ list: { component: 'div', role: 'group', 'aria-label': 'Tempo' } as object }}
      >
        <Box sx={{ px: 2, py: 1, width: 350 }}>
          <Typography variant="h3" component="h3" sx={{ mb: 1 }}>
            Tempo
          </Typography>
          <Choice
            label="owned by"
            value={tempo.source}
            options={(Object.keys(SOURCE_WORDS) as Tempo['source'][]).map(
              (s) => [s, SOURCE_WORDS[s]] as const,
            )}
            onChange={(source) =>
              set('choose who owns the tempo', {
                source,
                ...((source === 'typed' || source === 'tapped') && {
                  bpm: Math.min(400, Math.max(20, bpmNow())),
                }),
              })
            }
          />
          {tempo.source === 'found' && (
            <Box sx={{ display: 'grid', gap: 0.75, mt: 1 }}>
              <Choice
                label="listening to"
                value={tempo.input ?? ''}
                options={[
                  ['', 'the first input'],
                  ...inputs.filter((i) => i.kind !== 'notes').map((i) => [i.id, i.name] as const),
                ]}
                onChange={(input) => set('choose where the tempo is found', { input: input || null })}
              />
              <Choice
                label="counted"
                value={tempo.multiple}
                options={
                  [
                    [0.5, 'half as fast'],
                    [1, 'as found'],
                    [2, 'twice as fast'],
                  ] as const
                }
                onChange={(multiple) => set('halve or double the tempo', { multiple })}
              />
              <Box>
                sure by{' '}
                <LiveText
                  read={() => `${Math.round((live.signal(tempoSignal('confidence')) || 0) * 100)} %`}
                />
              </Box>
            </Box>
          )}
          {(tempo.source === 'typed' || tempo.source === 'tapped') && (
            <Box sx={{ mt: 1, display: 'flex', gap: 1, alignItems: 'center' }}>
              beats a minute{' '}
              <NumberField
                label="Tempo"
                value={tempo.bpm}
                unit="BPM"
                min={20}
                max={400}
                step={0.1}
                onChange={(bpm) => set('type a tempo', { bpm, source: 'typed' }, 'bpm')}
                onEnd={endDrag}
              />
            </Box>
          )}
          <Box sx={{ mt: 1, display: 'flex', gap: 1, alignItems: 'center' }}>
            beats to a bar{' '}
            <NumberField
              label="Beats to a bar"
              value={tempo.beatsPerBar}
              unit=""
              min={1}
              max={16}
              step={1}
              usual={4}
              onChange={(n) => set('beats to a bar', { beatsPerBar: Math.round(n) }, 'per bar')}
              onEnd={endDrag}
            />
          </Box>
          <Box sx={{ mt: 1, display: 'flex', gap: 0.5, flexWrap: 'wrap', ml: -1 }}>
            <Button variant="text" onClick={() => perform({ do: 'bar now' })}>
              the bar begins now <kbd style={{ font: 'inherit', fontWeight: 400, marginLeft: 6 }}>B</kbd>
            </Button>
            <Button variant="text" onClick={() => perform({ do: 'bar found' })}>
              find the bar
            </Button>
            <Button variant="text" onClick={nextMultiple}>
              half, double <kbd style={{ font: 'inherit', fontWeight: 400, marginLeft: 6 }}>H</kbd>
            </Button>
          </Box>
        </Box>
      </Menu>
    </>
  );
}

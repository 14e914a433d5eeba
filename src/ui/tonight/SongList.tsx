'use client';
import { Box, Button, Typography } from '@mui/material';
import { addSong, changeSong, freeId, freeName, removeSong, type Show } from '../../core/show';
import { Choices } from '../controls/Choices';
import { EntryField } from '../controls/EntryField';
import { IconAct } from '../controls/IconAct';
import { NameField } from '../controls/NameField';
import { NumberField } from '../controls/NumberField';
import { currentShow, edit, endDrag } from '../state/session';

const USUAL_BPM = 112;

/** Songs: a name, a note, and a tempo of their own if they have one. Cues say which song they belong to. */
export function SongList({ show }: { readonly show: Show }) {
  const add = (): void => {
    const now = currentShow();
    edit(
      'add a song',
      addSong({
        id: freeId(now, 'song'),
        name: freeName(now.songs, 'Song'),
        note: '',
        bpm: null,
        inputs: null,
      }),
    );
  };
  return (
    <Box>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
        <Typography variant="h3" sx={{ flex: 1 }}>
          Songs
        </Typography>
        <Button variant="outlined" onClick={add}>
          + song
        </Button>
      </Box>
      <Box
        component="ul"
        aria-label="Songs"
        sx={{ listStyle: 'none', p: 0, m: 0, mt: 1, display: 'grid', gap: 0.75 }}
      >
        {show.songs.length === 0 && (
          <Box component="li">No song yet. Cues can be given to one under their notes.</Box>
        )}
        {show.songs.map((s) => (
          <Box
            component="li"
            key={s.id}
            sx={(t) => ({
              background: t.ink.sheet,
              color: t.ink.sheetText,
              p: 1,
              display: 'flex',
              flexWrap: 'wrap',
              gap: 1.5,
              alignItems: 'center',
              '--faint': t.ink.sheetFaint,
              '--bed': t.ink.track,
            })}
          >
            <NameField
              name={s.name}
              label="Name of the song"
              onRename={(name) => edit('name a song', changeSong(s.id, { name }))}
              sx={{
                font: 'inherit',
                fontWeight: 700,
                minHeight: 34,
                border: 'none',
                borderBottom: '2px dotted',
                background: 'transparent',
                color: 'inherit',
              }}
            />
            <EntryField
              label={`Note of ${s.name}`}
              value={s.note}
              width={260}
              read={(text) => (text.length <= 400 ? text : null)}
              wrong="At most 400 letters."
              onChange={(note) => edit('write a note', changeSong(s.id, { note }))}
            />
            <Button
              variant={s.bpm === null ? 'outlined' : 'contained'}
              aria-pressed={s.bpm !== null}
              onClick={() =>
                edit('set the tempo of a song', changeSong(s.id, { bpm: s.bpm === null ? USUAL_BPM : null }))
              }
            >
              its own tempo
            </Button>
            {s.bpm !== null && (
              <NumberField
                label={`Tempo of ${s.name}`}
                value={s.bpm}
                unit="bpm"
                min={20}
                max={400}
                step={0.5}
                usual={USUAL_BPM}
                onChange={(bpm, dragging) =>
                  edit('set the tempo of a song', changeSong(s.id, { bpm }), dragging ? `song-${s.id}` : null)
                }
                onEnd={endDrag}
              />
            )}
            <Choices
              label="listens to"
              name={`Inputs of ${s.name}`}
              all="all inputs"
              values={s.inputs ?? []}
              options={show.inputs.map((i) => [i.id, i.name] as const)}
              short={(id) => show.inputs.find((i) => i.id === id)?.name ?? 'gone'}
              onChange={(inputs) =>
                edit(
                  'choose the inputs of a song',
                  changeSong(s.id, { inputs: inputs.length === 0 ? null : [...inputs] }),
                )
              }
            />
            <Box sx={{ flex: 1 }} />
            <IconAct
              act="delete"
              label={`Delete the song ${s.name}`}
              onClick={() => edit('delete a song', removeSong(s.id))}
            />
          </Box>
        ))}
      </Box>
    </Box>
  );
}

'use client';
import { Box, Button, Typography } from '@mui/material';
import { addCue, addLook, newCue, newLook, renumberCues, setEndings, type Show } from '../../core/show';
import { currentShow, edit, endDrag, giveBack, perform, stood, useSession } from '../state/session';
import { NumberField } from '../controls/NumberField';
import { say } from '../state/notices';
import { look, useView } from '../state/view';
import { CueRow } from './CueRow';
import { GripList } from './GripList';
import { LookPanel } from './LookPanel';
import { Print } from './Print';
import { SecondComputer } from './SecondComputer';
import { SongList } from './SongList';

/** Keeps what stood so many bars ago as a look; what was held by hand now is part of it, and let go of. */
async function keep(barsAgo: number): Promise<void> {
  const what = await stood(barsAgo);
  if (Object.keys(what.values).length + Object.keys(what.routes).length === 0) {
    say(
      'warning',
      'Everything was as it rests: there is nothing to keep. Move something by hand first, or take a look.',
    );
    return;
  }
  const made = newLook(currentShow(), barsAgo === 0 ? 'Kept' : `Kept: ${barsAgo} bars ago`, what);
  edit('keep a look', addLook(made));
  look({ openLook: made.id });
  if (barsAgo > 0) return;
  perform({ do: 'look', look: made.id, fade: { unit: 'seconds', length: 0, from: 'now' } });
  giveBack();
}

function hang(id: string, name: string): void {
  const cue = newCue(currentShow(), useSession.getState().stage.cue, name, id);
  if (cue) edit('hang a look on the cord', addCue(cue));
  else say('warning', 'No number is left between these two cues. Renumber them, then hang it again.');
}

/** The night before it: looks are kept and edited, and hung on the cord. */
export function PrepareNight({ show }: { readonly show: Show }) {
  const open = useView((v) => v.openLook),
    chosen = show.looks.find((l) => l.id === open) ?? null;
  return (
    <Box
      sx={{
        minHeight: 0,
        display: 'grid',
        gap: 1.5,
        gridTemplateColumns: { xs: '1fr', md: 'minmax(0, 1.5fr) minmax(340px, 1fr)' },
        overflow: { xs: 'auto', md: 'hidden' },
      }}
    >
      <Box
        sx={{
          minHeight: 0,
          overflowY: { md: 'auto' },
          display: 'grid',
          gap: 1.5,
          alignContent: 'start',
          pr: 1,
        }}
      >
        <Box>
          <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, flexWrap: 'wrap' }}>
            <Typography variant="h3">Looks</Typography>
            <Box sx={{ flex: 1 }} />
            <Box component="span" sx={(t) => ({ color: t.ink.sheetFaint })}>
              keep what is on
            </Box>
            {[0, 2, 4, 8].map((bars) => (
              <Button key={bars} variant="outlined" onClick={() => void keep(bars)}>
                {bars === 0 ? 'now' : `${bars} bars ago`}
              </Button>
            ))}
          </Box>
          <Box
            component="ul"
            aria-label="Looks"
            sx={{
              listStyle: 'none',
              p: 0,
              m: 0,
              mt: 1,
              display: 'grid',
              gridTemplateColumns: 'repeat(auto-fill, minmax(132px, 1fr))',
              gap: 1,
            }}
          >
            {show.looks.length === 0 && (
              <Box component="li" sx={{ gridColumn: '1 / -1', maxWidth: 560 }}>
                No look yet. Hold some values by hand, in any place, until the picture and the lamps are as
                you want them; then keep them here.
              </Box>
            )}
            {show.looks.map((l) => (
              <Box
                component="li"
                key={l.id}
                sx={(t) => ({
                  background: l.id === chosen?.id ? t.ink.paper : t.ink.sheet,
                  color: l.id === chosen?.id ? t.ink.paperText : t.ink.sheetText,
                  outline: l.id === chosen?.id ? `3px solid ${t.ink.selected}` : 'none',
                })}
              >
                <Box
                  component="button"
                  type="button"
                  aria-pressed={l.id === chosen?.id}
                  onClick={() => look({ openLook: l.id })}
                  sx={{
                    all: 'unset',
                    display: 'block',
                    width: 1,
                    cursor: 'pointer',
                    '&:focus-visible': { outline: '3px solid currentColor' },
                  }}
                >
                  <Print look={l.id} />
                  <Box component="span" sx={{ display: 'block', px: 1, py: 0.5, fontWeight: 700 }}>
                    {l.name}
                    {l.key ? ` · ${l.key.toUpperCase()}` : ''}
                    {show.home === l.id ? ' · home' : ''}
                  </Box>
                </Box>
                <Button
                  variant="text"
                  sx={{ color: 'inherit', px: 1 }}
                  onClick={() => hang(l.id, l.name)}
                  aria-label={`+ cue with ${l.name}`}
                  title="Hang it on the cord."
                >
                  + cue
                </Button>
              </Box>
            ))}
          </Box>
        </Box>
        <Box>
          <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
            <Typography variant="h3" sx={{ flex: 1 }}>
              The cord
            </Typography>
            {show.cues.length > 1 && (
              <Button variant="text" onClick={() => edit('number the cues anew', renumberCues)}>
                number them anew
              </Button>
            )}
          </Box>
          <Box
            component="ol"
            aria-label="Cues"
            sx={{ listStyle: 'none', p: 0, m: 0, mt: 1, display: 'grid', gap: 0.75 }}
          >
            {show.cues.length === 0 && (
              <Box component="li">No cue yet. “+ cue” under a look hangs it here.</Box>
            )}
            {show.cues.map((c, i) => (
              <CueRow key={c.id} cue={c} show={show} first={i === 0} last={i === show.cues.length - 1} />
            ))}
          </Box>
        </Box>
        <SongList show={show} />
        <Endings show={show} />
        <GripList show={show} />
        <SecondComputer />
      </Box>
      <Box sx={{ minHeight: 0, overflowY: { md: 'auto' } }}>
        {chosen ? (
          <LookPanel look={chosen} show={show} />
        ) : (
          <Box sx={(t) => ({ p: 2, background: t.ink.sheet })}>
            Choose a look: its values are shown here, and can be changed.
          </Box>
        )}
      </Box>
    </Box>
  );
}

/** How dark and freeze come, from wherever they are asked for. */
function Endings({ show }: { readonly show: Show }) {
  return (
    <Box>
      <Typography variant="h3">Dark and freeze</Typography>
      <Box sx={{ mt: 1, display: 'flex', flexWrap: 'wrap', gap: 2, alignItems: 'center' }}>
        {(
          [
            ['darkOver', 'Dark comes over'],
            ['freezeOver', 'Freeze comes over'],
          ] as const
        ).map(([field, label]) => (
          <Box
            key={field}
            component="label"
            sx={{ display: 'inline-flex', gap: 0.75, alignItems: 'baseline' }}
          >
            <span>{label}</span>
            <NumberField
              label={label}
              value={show[field]}
              unit="s"
              min={0}
              max={60}
              step={0.1}
              usual={0}
              onChange={(seconds, dragging) =>
                edit(
                  'set how dark and freeze come',
                  setEndings({ [field]: seconds }),
                  dragging ? `over-${field}` : null,
                )
              }
              onEnd={endDrag}
            />
          </Box>
        ))}
        <Box component="span" sx={(t) => ({ color: t.ink.sheetFaint })}>
          0 is at once. The laser goes dark at once however long the rest takes.
        </Box>
      </Box>
    </Box>
  );
}

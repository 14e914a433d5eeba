'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useEffect, useState } from 'react';
import { listShows, type Listed } from '../../data/showStore';
import { openKept, removeKept, useSession } from '../state/session';

const whenText = (at: number): string =>
  new Date(at).toLocaleString([], {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
  });

/** The shows that are kept in this browser, to open and to remove. What is removed can be put back until the list is closed. */
export function KeptShows({ onClose }: { readonly onClose: () => void }) {
  const [kept, setKept] = useState<readonly Listed[] | 'unknown' | null>(null);
  const [going, setGoing] = useState<readonly string[]>([]);
  const now = useSession((s) => s.history.show.id),
    name = useSession((s) => s.history.show.name);
  useEffect(() => {
    void listShows().then(setKept, () => setKept('unknown'));
  }, []);
  const close = (): void => {
    onClose();
    void removeKept(going);
  };
  const others = kept === null || kept === 'unknown' ? [] : kept.filter((k) => k.id !== now);
  return (
    <Dialog
      open
      onClose={close}
      aria-labelledby="kept-title"
      slotProps={{ paper: { sx: { p: 3, width: 'min(640px, 94vw)' } } }}
    >
      <Typography id="kept-title" variant="h2">
        Shows in this browser
      </Typography>
      <Box sx={{ color: 'var(--faint)', fontSize: '0.92rem', mt: 0.75, mb: 1 }}>
        “{name}” is open, and stays. What you remove goes for good when this list is closed; to have it
        elsewhere, open it and save it to a file first.
      </Box>
      {kept === 'unknown' && (
        <Box role="alert">The browser does not give its list of shows. Reload the page, and try again.</Box>
      )}
      {kept !== null && kept !== 'unknown' && others.length === 0 && <Box>No other show is kept here.</Box>}
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {others.map((k) => {
          const goes = going.includes(k.id);
          return (
            <Box
              component="li"
              key={k.id}
              aria-label={k.name}
              sx={{
                display: 'flex',
                alignItems: 'center',
                gap: 1,
                py: 0.5,
                borderTop: '2px solid var(--bed)',
              }}
            >
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Box
                  sx={{
                    overflow: 'hidden',
                    textOverflow: 'ellipsis',
                    whiteSpace: 'nowrap',
                    fontWeight: 700,
                    ...(goes && { textDecoration: 'line-through' }),
                  }}
                >
                  {k.name}
                </Box>
                <Box sx={{ color: 'var(--faint)', fontSize: '0.84rem' }}>
                  {goes ? 'goes when this list is closed' : `saved ${whenText(k.savedAt)}`}
                </Box>
              </Box>
              {!goes && (
                <Button
                  variant="text"
                  aria-label={`Open ${k.name}`}
                  onClick={() => {
                    close();
                    void openKept(k.id);
                  }}
                  sx={{ color: 'inherit' }}
                >
                  open
                </Button>
              )}
              <Button
                variant="text"
                aria-label={`${goes ? 'Put back' : 'Remove'} ${k.name}`}
                onClick={() => setGoing(goes ? going.filter((id) => id !== k.id) : [...going, k.id])}
                sx={{ color: 'inherit' }}
              >
                {goes ? 'put back' : 'remove'}
              </Button>
            </Box>
          );
        })}
      </Box>
      <Box sx={{ display: 'flex', justifyContent: 'end', mt: 2 }}>
        <Button variant="contained" onClick={close}>
          {going.length > 0 ? `Remove ${going.length}, and close` : 'Close'}
        </Button>
      </Box>
    </Dialog>
  );
}

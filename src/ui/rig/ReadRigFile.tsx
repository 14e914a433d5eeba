'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useRef, useState } from 'react';
import { ARCHIVE_MOST_BYTES, readGdtf, readMvr, type ReadRig } from '../../core/gdtf';
import { addFixture, type Fixture, freeIds, freeName, takeKinds } from '../../core/show';
import { say } from '../state/notices';
import { currentShow, edit } from '../state/session';

interface Read extends ReadRig {
  readonly file: string;
}

/** Reads a fixture definition or a whole rig; says what is in it before anything is changed. */
export function ReadRigFile() {
  const input = useRef<HTMLInputElement>(null);
  const [read, setRead] = useState<Read | null>(null);
  const take = async (file: File): Promise<void> => {
    try {
      if (file.size > ARCHIVE_MOST_BYTES)
        throw new Error(
          `The file is too large: ${Math.round(file.size / 1048576)} MB, and ${ARCHIVE_MOST_BYTES >> 20} at most.`,
        );
      const bytes = new Uint8Array(await file.arrayBuffer());
      const rig = /\.mvr$/i.test(file.name)
        ? readMvr(bytes, currentShow().room)
        : { ...readGdtf(bytes), lamps: [] };
      setRead({ ...rig, file: file.name });
    } catch (e) {
      say('warning', `“${file.name}” was not read; nothing is changed. ${(e as Error).message}`);
    }
  };
  const keep = (): void => {
    if (!read) return;
    const { kinds, lamps, file } = read;
    const show = currentShow(),
      freshId = freeIds(show, 'lamp'),
      made: Fixture[] = [];
    for (const l of lamps)
      made.push({
        id: freshId(),
        name: freeName([...show.fixtures, ...made], l.name),
        mode: l.kind,
        universe: l.universe,
        address: l.address,
        at: l.at,
        group: l.group,
        rest: {},
      });
    edit(`read ${file}`, (d) => {
      takeKinds(kinds)(d);
      for (const lamp of made) addFixture(lamp)(d);
    });
    setRead(null);
    say(
      'done',
      lamps.length > 0
        ? `${lamps.length} lamps of ${kinds.length} kinds are in the rig.`
        : `${kinds.length === 1 ? 'One kind is' : `${kinds.length} kinds are`} offered for lamps now.`,
    );
  };
  return (
    <>
      <Button variant="text" onClick={() => input.current?.click()}>
        Read a fixture or rig file …
      </Button>
      <input
        ref={input}
        hidden
        type="file"
        accept=".gdtf,.mvr"
        aria-label="Fixture or rig file"
        onChange={(e) => {
          const file = e.currentTarget.files?.[0];
          e.currentTarget.value = '';
          if (file) void take(file);
        }}
      />
      <Dialog
        open={read !== null}
        onClose={() => setRead(null)}
        aria-labelledby="read-title"
        slotProps={{ paper: { sx: { p: 3, minWidth: 420, maxWidth: 640 } } }}
      >
        {read && (
          <>
            <Typography id="read-title" variant="h2">
              In “{read.file}”
            </Typography>
            <Box sx={{ my: 1.5 }}>
              {read.lamps.length > 0 && `${read.lamps.length} lamps, of `}
              {read.kinds.length === 1 ? 'one kind' : `${read.kinds.length} kinds`}:
            </Box>
            <Box component="ul" sx={{ m: 0, pl: 2.5, maxHeight: 180, overflowY: 'auto' }}>
              {read.kinds.map((k) => (
                <li key={k.id}>{k.label}</li>
              ))}
            </Box>
            {read.notes.length > 0 && (
              <Box sx={{ mt: 1.5 }}>
                <b>What is left out or assumed</b>
                <Box
                  component="ul"
                  sx={{ m: 0, pl: 2.5, maxHeight: 180, overflowY: 'auto', fontSize: '0.92rem' }}
                >
                  {read.notes.map((n, i) => (
                    <li key={i}>{n}</li>
                  ))}
                </Box>
              </Box>
            )}
            <Box sx={{ display: 'flex', gap: 1, mt: 2 }}>
              <Button variant="contained" onClick={keep}>
                {read.lamps.length > 0 ? `Add ${read.lamps.length} lamps` : 'Take it in'}
              </Button>
              <Button variant="text" onClick={() => setRead(null)}>
                Never mind
              </Button>
            </Box>
          </>
        )}
      </Dialog>
    </>
  );
}

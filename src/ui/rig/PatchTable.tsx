'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useState } from 'react';
import { patchFromTable, patchToCsv } from '../../core/show';
import { saveBlob } from '../state/saveBlob';
import { currentShow, edit } from '../state/session';

/** The patch out as CSV, and a table in: pasted from a spreadsheet, or from a file. */
export function PatchTable() {
  const [text, setText] = useState<string | null>(null);
  const read = text?.trim() ? patchFromTable(text, currentShow()) : null;
  const many = (n: number, what: string): string => `${n} ${n === 1 ? 'lamp' : 'lamps'} ${what}`;
  return (
    <>
      <Button
        variant="text"
        onClick={() => {
          const show = currentShow();
          saveBlob(new Blob([patchToCsv(show)], { type: 'text/csv' }), `${show.name} patch.csv`);
        }}
      >
        Save as CSV
      </Button>
      <Button variant="text" onClick={() => setText('')}>
        Paste a table …
      </Button>
      <Dialog
        open={text !== null}
        onClose={() => setText(null)}
        aria-labelledby="table-title"
        slotProps={{ paper: { sx: { p: 3, width: 640 } } }}
      >
        <Typography id="table-title" variant="h2">
          A table of lamps
        </Typography>
        <Box sx={{ my: 1 }}>
          From a spreadsheet or a CSV file: name, kind, universe, address; or with a first row that names the
          columns. Lamps that are known by name are changed, others are added.
        </Box>
        <Box
          component="textarea"
          autoFocus
          aria-label="Table"
          value={text ?? ''}
          spellCheck={false}
          onChange={(e) => setText(e.currentTarget.value)}
          onKeyDown={(e) => e.stopPropagation()}
          onDragOver={(e) => e.preventDefault()}
          onDrop={(e) => {
            const file = e.dataTransfer.files[0];
            if (!file) return;
            e.preventDefault();
            void file.text().then(setText);
          }}
          sx={(t) => ({
            fontFamily: t.typography.fontFamily,
            fontSize: '0.95rem',
            width: '100%',
            height: 180,
            background: t.ink.ground,
            color: t.ink.sheetText,
            border: `2px solid ${t.ink.track}`,
            p: 1,
          })}
        />
        <Box role="status" sx={{ minHeight: 24, mt: 1 }}>
          {read && `${many(read.changed, 'changed')}, ${many(read.added, 'added')}.`}
        </Box>
        {read && read.problems.length > 0 && (
          <Box role="alert" component="ul" sx={{ m: 0, pl: 2.5, maxHeight: 140, overflowY: 'auto' }}>
            {read.problems.slice(0, 50).map((p, i) => (
              <li key={i}>{p}</li>
            ))}
          </Box>
        )}
        <Box sx={{ display: 'flex', gap: 1, mt: 2 }}>
          <Button
            variant="contained"
            disabled={!read || read.changed + read.added === 0}
            onClick={() => {
              if (read) edit('read a table of lamps', read.command);
              setText(null);
            }}
          >
            Take it in
          </Button>
          <Button variant="text" onClick={() => setText(null)}>
            Never mind
          </Button>
        </Box>
      </Dialog>
    </>
  );
}

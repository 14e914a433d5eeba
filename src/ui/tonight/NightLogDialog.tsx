'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useEffect, useMemo, useState } from 'react';
import {
  type LineKind,
  logAsCsv,
  logAsJsonLines,
  type LogLine,
  type NightSummary,
  summaryOf,
} from '../../core/log';
import { keptNights, linesOf, nightOf } from '../../data/logStore';
import { Choice } from '../controls/Choice';
import { saveBlob } from '../state/saveBlob';

/** What is shown together, by the words on its switch. */
const KINDS: readonly (readonly [label: string, kinds: readonly LineKind[]])[] = [
  ['acts', ['act']],
  ['cues', ['cue', 'show']],
  ['faults', ['fault', 'mended']],
  ['levels', ['level']],
  ['tempo', ['tempo']],
];
const USUAL = ['acts', 'cues', 'faults'];
/** So many lines are shown at once; earlier ones on a press. */
const PAGE = 200;
/** How often it is looked for what was written since. */
const READ_MS = 2000;

const MARKS: Readonly<Record<LineKind, string>> = {
  show: 'show',
  act: 'act',
  cue: 'in',
  fault: 'fault',
  mended: 'mended',
  level: 'level',
  tempo: 'tempo',
};

/** The night's log: what was done, by whom, and what went wrong, to look at and to save. */
export function NightLogButton() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        The night’s log …
      </Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        aria-labelledby="log-title"
        slotProps={{ paper: { sx: { p: 3, width: 900, maxWidth: '96vw' } } }}
      >
        {open && <Log close={() => setOpen(false)} />}
      </Dialog>
    </>
  );
}

function Log({ close }: { readonly close: () => void }) {
  const [nights, setNights] = useState<readonly string[] | null>(null),
    [night, setNight] = useState(() => nightOf(Date.now())),
    [lines, setLines] = useState<readonly LogLine[] | null>(null),
    [shown, setShown] = useState<readonly string[]>(USUAL),
    [words, setWords] = useState(''),
    [most, setMost] = useState(PAGE),
    [trouble, setTrouble] = useState(false);
  useEffect(() => {
    keptNights().then(setNights, () => setTrouble(true));
  }, []);
  useEffect(() => {
    let over = false,
      reading = false,
      to = 0;
    const read = async (): Promise<void> => {
      if (reading) return;
      reading = true;
      try {
        const { lines: fresh, last } = await linesOf(night, to);
        if (over) return;
        const first = to === 0;
        to = last;
        if (first) setLines(fresh);
        else if (fresh.length > 0) setLines((before) => [...(before ?? []), ...fresh]);
      } catch {
        setTrouble(true);
      } finally {
        reading = false;
      }
    };
    void read();
    const every = setInterval(() => void read(), READ_MS);
    return () => {
      over = true;
      clearInterval(every);
    };
  }, [night]);
  const summary = useMemo(() => summaryOf(lines ?? []), [lines]);
  const found = useMemo(() => {
    const kinds = new Set(KINDS.filter(([label]) => shown.includes(label)).flatMap(([, k]) => k)),
      sought = words.trim().toLowerCase();
    return (lines ?? []).filter(
      (l) => kinds.has(l.kind) && (sought === '' || `${l.who} ${l.what}`.toLowerCase().includes(sought)),
    );
  }, [lines, shown, words]);
  const save = (text: string, ending: string, type: string): void => {
    saveBlob(new Blob([text], { type }), `night of ${night}.${ending}`);
  };
  const all = [...new Set([nightOf(Date.now()), ...(nights ?? [])])];
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, flexWrap: 'wrap' }}>
        <Typography id="log-title" variant="h2" sx={{ flex: 1 }}>
          The night’s log
        </Typography>
        <Choice
          label="night of"
          value={night}
          options={all.map((n) => [n, nightText(n)] as const)}
          onChange={(n) => {
            setLines(null);
            setMost(PAGE);
            setNight(n);
          }}
        />
      </Box>
      <Box role="status" sx={{ my: 1 }}>
        {trouble
          ? 'The browser does not give its log. Reload the page, and try again.'
          : lines === null
            ? 'It is being read …'
            : summaryText(summary, lines.length)}
      </Box>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap', mb: 1 }}>
        <Box role="group" aria-label="What is shown" sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
          {KINDS.map(([label]) => {
            const on = shown.includes(label);
            return (
              <Button
                key={label}
                variant={on ? 'contained' : 'outlined'}
                aria-pressed={on}
                onClick={() => setShown(on ? shown.filter((s) => s !== label) : [...shown, label])}
              >
                {label}
              </Button>
            );
          })}
        </Box>
        <Box
          component="input"
          type="search"
          aria-label="With the words"
          placeholder="with the words …"
          value={words}
          onChange={(e) => setWords(e.target.value)}
          sx={{
            flex: '1 1 160px',
            font: 'inherit',
            minHeight: 34,
            px: 1,
            border: 'none',
            borderBottom: '2px dotted',
            background: 'transparent',
            color: 'inherit',
            '&::placeholder': { color: 'var(--faint)', opacity: 1 },
          }}
        />
      </Box>
      <Lines lines={found.slice(-most)} />
      {found.length === 0 && lines !== null && (
        <Box sx={{ color: 'var(--faint)', py: 2 }}>
          {lines.length === 0
            ? 'Nothing was written in that night. While a show runs, all that is done in it is.'
            : 'No line is of what is chosen above.'}
        </Box>
      )}
      <Box sx={{ mt: 2, display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        <Button
          variant="outlined"
          disabled={!lines?.length}
          onClick={() => save(logAsJsonLines(lines ?? [], isoText), 'jsonl', 'application/x-ndjson')}
        >
          Save as JSON lines
        </Button>
        <Button
          variant="outlined"
          disabled={!lines?.length}
          onClick={() => save(logAsCsv(lines ?? [], isoText), 'csv', 'text/csv')}
        >
          Save as CSV
        </Button>
        {found.length > most && (
          <Button variant="text" onClick={() => setMost((n) => n + PAGE)}>
            Show {Math.min(PAGE, found.length - most)} earlier
          </Button>
        )}
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" onClick={close}>
          Done
        </Button>
      </Box>
    </>
  );
}

function Lines({ lines }: { readonly lines: readonly LogLine[] }) {
  return (
    <Box
      component="ol"
      aria-label="Lines of the log"
      tabIndex={0}
      sx={{ listStyle: 'none', m: 0, p: 0, overflowY: 'auto', maxHeight: '52vh' }}
    >
      {lines.toReversed().map((l, i) => (
        <Box
          component="li"
          key={`${l.at} ${lines.length - i}`}
          sx={(t) => ({
            display: 'grid',
            gridTemplateColumns: '84px 66px minmax(90px, 170px) minmax(0, 1fr)',
            gap: 1.5,
            py: 0.5,
            px: 1,
            overflowWrap: 'anywhere',
            background: l.kind === 'fault' ? t.ink.paperShade : 'transparent',
            fontVariantNumeric: 'tabular-nums',
          })}
        >
          <time dateTime={new Date(l.at).toISOString()}>{timeText(l.at)}</time>
          <Box component="span" sx={{ fontWeight: l.kind === 'act' ? 400 : 700 }}>
            {MARKS[l.kind]}
          </Box>
          <span>{l.who}</span>
          <span>{lineText(l)}</span>
        </Box>
      ))}
    </Box>
  );
}

const isoText = (at: number): string => new Date(at).toISOString();
const timeText = (at: number): string => new Date(at).toTimeString().slice(0, 8);
const nightText = (night: string): string =>
  new Date(`${night}T12:00`).toLocaleDateString([], { weekday: 'short', day: 'numeric', month: 'long' });

function lineText({ kind, what, number }: LogLine): string {
  if (number === undefined) return what;
  switch (kind) {
    case 'level':
      return number <= -120 ? 'silent' : `${what} ${number.toFixed(1).replace('-', '−')} dBFS`;
    case 'tempo':
      return number > 0 ? `${number.toFixed(1)} BPM` : what;
    case 'mended':
      return `after ${number < 60 ? `${number.toFixed(1)} s` : `${Math.round(number / 60)} min`}: ${what}`;
    default:
      return what;
  }
}
function summaryText({ from, to, counts, open, loudest }: NightSummary, lines: number): string {
  if (lines === 0) return 'Nothing was written.';
  const few = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`;
  return [
    `${timeText(from).slice(0, 5)} to ${timeText(to).slice(0, 5)}`,
    few(counts.act, 'act', 'acts'),
    few(counts.cue, 'look came in', 'looks came in'),
    counts.fault === 0
      ? 'no fault'
      : `${few(counts.fault, 'fault', 'faults')}, ${open === 0 ? 'all mended' : `${open} not mended`}`,
    ...(loudest > -120 ? [`loudest ${loudest.toFixed(1).replace('-', '−')} dBFS`] : []),
  ].join(' · ');
}

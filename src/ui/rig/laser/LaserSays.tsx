'use client';
import { Box } from '@mui/material';
import { DARK_WORDS } from '../../../core/laser';
import type { LaserReport } from '../../../core/protocols';
import { useSession } from '../../state/session';
import { FONT } from '../../theme/tokens';
import type { FieldNumbers } from './LaserStage';

/** What the laser is, in one word, and why, in a sentence. */
export function laserWords(report: LaserReport | null): { readonly word: string; readonly why: string } {
  const state = report?.state;
  if (report?.trouble) return { word: 'Dark', why: report.trouble };
  if (!state) return { word: 'Dark', why: 'The server does not answer; nothing can be lit.' };
  if (state.step === 'ready')
    return { word: 'Ready', why: 'Now press the Laser sign in the frame, within 20 seconds, to arm it.' };
  if (state.step === 'dark')
    return { word: 'Dark', why: state.why ? DARK_WORDS[state.why] : 'It is not armed.' };
  const since = state.armedAt === null ? '' : ` at ${new Date(state.armedAt).toTimeString().slice(0, 5)}`;
  return state.lit
    ? { word: 'Lit', why: `Armed by two acts${since}. It goes dark by itself if anything is late by 50 ms.` }
    : {
        word: 'Armed',
        why: state.why
          ? DARK_WORDS[state.why]
          : 'Armed; nothing of what is drawn is bright where it may shine.',
      };
}

/** The line under the field: readable from afar, with the numbers of what is drawn. */
export function LaserSays({ numbers }: { readonly numbers: FieldNumbers | null }) {
  const report = useSession((s) => s.outlets?.laser ?? null),
    { word, why } = laserWords(report),
    state = report?.state;
  const armed = state?.step === 'armed';
  const parts: string[] = [];
  if (armed)
    parts.push(
      `${state.points.toLocaleString('en').replace(/,/g, ' ')} points/s`,
      `${state.pictures} pictures/s`,
    );
  else if (numbers) parts.push(`${numbers.points} points a picture`);
  if (numbers) {
    parts.push(`${Math.round(numbers.dark * 100)} % dark travel`);
    if (numbers.away !== null) parts.push(`${numbers.away.toFixed(1)}° from the nearest keep-out`);
  }
  if (armed) parts.push(`hottest spot ${Math.round(state.hottest * 100)} % of its limit`);
  if (armed && state.pictures > 0 && state.pictures < 20)
    parts.push('it flickers: less than 20 pictures a second');
  if (numbers && numbers.spacing > 1.01) parts.push(`points ${numbers.spacing.toFixed(1)} × as far apart`);
  if (numbers && numbers.repeats < 0.99) parts.push('corners less sharp');
  if (numbers && numbers.leftOut > 0) parts.push(`${numbers.leftOut} lines left out`);
  if (numbers && !armed && numbers.passed < 0.99)
    parts.push(`${Math.round((1 - numbers.passed) * 100)} % of it would be cut`);
  return (
    <Box
      role="status"
      aria-label="Laser"
      sx={(t) => ({ background: t.ink.sheet, color: t.ink.sheetText, px: 1.75, py: 1, minWidth: 0 })}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2, flexWrap: 'wrap' }}>
        <Box sx={{ fontFamily: FONT.head, fontWeight: 800, fontSize: '1.6rem', lineHeight: 1.1 }}>{word}</Box>
        <Box sx={{ fontSize: '1.02rem', flex: 1, minWidth: 220 }}>{why}</Box>
      </Box>
      <Box sx={{ opacity: 0.86, fontSize: '0.92rem', pt: 0.25 }}>{parts.join(' · ')}</Box>
    </Box>
  );
}

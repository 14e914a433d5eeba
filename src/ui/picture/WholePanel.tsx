'use client';
import { Box, Button, Checkbox, Typography } from '@mui/material';
import { useEffect } from 'react';
import { finishLabel } from '../../core/finishes';
import type { Saving } from '../../core/figures';
import { finishOn, setBudget, setFlashLimit, type Show, WHOLE_PICTURE } from '../../core/show';
import { NumberField } from '../controls/NumberField';
import { edit, endDrag, useSession } from '../state/session';
import { FinishList } from './FinishList';
import { loseDevice, watchCosts } from './PictureStage';

const SAVED: Readonly<Record<Saving, string>> = {
  edges: 'smooth edges',
  resolution: 'resolution',
  counts: 'copies and particles',
};

/** What belongs to the picture as a whole: its finishes, how far it may flash, and what it may cost. */
export function WholePanel() {
  const show = useSession((s) => s.history.show);
  return (
    <>
      <Typography variant="h2" component="h2">
        Whole picture
      </Typography>
      <FinishList on={WHOLE_PICTURE} name="the whole picture" />
      <Box component="section" aria-label="Flashes" sx={{ py: 1, borderTop: '2px solid var(--bed)' }}>
        <Typography variant="h3" component="h3">
          Flashes
        </Typography>
        <Box component="label" sx={{ display: 'flex', alignItems: 'center', minHeight: 34 }}>
          <Checkbox
            checked={show.flashLimit !== null}
            onChange={(e) =>
              edit(
                e.target.checked ? 'hold flashes back' : 'let every flash through',
                setFlashLimit(e.target.checked ? 3 : null),
              )
            }
            sx={{ p: 0.75, color: 'inherit' }}
          />
          Hold flashes of the whole picture back
        </Box>
        {show.flashLimit === null ? (
          <Box role="status" sx={{ fontSize: '0.9rem' }}>
            Every flash goes through. More than 3 a second can harm people with photosensitive epilepsy.
          </Box>
        ) : (
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, fontSize: '0.9rem' }}>
            to at most{' '}
            <NumberField
              label="Flashes a second at most"
              value={show.flashLimit}
              unit="/s"
              min={1}
              max={30}
              step={1}
              usual={3}
              onChange={(v) => edit('limit flashes', setFlashLimit(Math.round(v)), 'flash limit')}
              onEnd={endDrag}
            />
          </Box>
        )}
      </Box>
      <Budget show={show} />
    </>
  );
}

function partName(show: Show, id: string): string {
  const figure = show.figures.find((f) => f.id === id),
    finish = show.finishes.find((f) => f.id === id);
  return figure?.name ?? (finish ? `${finishLabel(finish.form.kind)} on ${finishOn(show, finish.on)}` : id);
}

function Budget({ show }: { readonly show: Show }) {
  const { budget } = show,
    { costs, quality, regained } = useSession((s) => s.picture);
  useEffect(() => {
    watchCosts(true);
    return () => watchCosts(false);
  }, []);
  const sorted = [...costs].sort((a, b) => b.ms - a.ms),
    most = Math.max(1e-6, sorted[0]?.ms ?? 0);
  const lowered = [
    ...(quality.edges ? [] : ['edges are rough']),
    ...(quality.resolution < 1 ? [`resolution ${Math.round(quality.resolution * 100)} %`] : []),
    ...(quality.counts < 1 ? [`counts ${Math.round(quality.counts * 100)} %`] : []),
  ];
  const swap = (i: number): void => {
    const order = [...budget.order];
    [order[i - 1], order[i]] = [order[i]!, order[i - 1]!];
    edit('order of savings', setBudget({ order }));
  };
  return (
    <Box component="section" aria-label="Budget" sx={{ py: 1, borderTop: '2px solid var(--bed)' }}>
      <Typography variant="h3" component="h3">
        Budget
      </Typography>
      <Box component="label" sx={{ display: 'flex', alignItems: 'center', minHeight: 34 }}>
        <Checkbox
          checked={budget.on}
          onChange={(e) =>
            edit(
              e.target.checked ? 'keep to the budget' : 'spend freely',
              setBudget({ on: e.target.checked }),
            )
          }
          sx={{ p: 0.75, color: 'inherit' }}
        />
        Lower the quality before frames are lost
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', columnGap: 1, fontSize: '0.9rem' }}>
        below{' '}
        <NumberField
          label="Frames a second to keep"
          value={budget.framesPerSecond}
          unit="/s"
          min={5}
          max={240}
          step={1}
          usual={30}
          onChange={(v) => edit('frames to keep', setBudget({ framesPerSecond: v }), 'budget frames')}
          onEnd={endDrag}
        />
        resolution no less than{' '}
        <NumberField
          label="Least resolution"
          value={Math.round(budget.leastResolution * 100)}
          unit="%"
          min={10}
          max={100}
          step={1}
          usual={50}
          onChange={(v) =>
            edit('least resolution', setBudget({ leastResolution: v / 100 }), 'least resolution')
          }
          onEnd={endDrag}
        />
        counts no less than{' '}
        <NumberField
          label="Least counts"
          value={Math.round(budget.leastCounts * 100)}
          unit="%"
          min={0}
          max={100}
          step={1}
          usual={25}
          onChange={(v) => edit('least counts', setBudget({ leastCounts: v / 100 }), 'least counts')}
          onEnd={endDrag}
        />
      </Box>
      <Box component="ol" sx={{ my: 0.75, pl: 3, fontSize: '0.9rem' }}>
        {budget.order.map((s, i) => (
          <Box component="li" key={s}>
            {SAVED[s]}
            {i > 0 && (
              <Button
                variant="text"
                aria-label={`Save on ${SAVED[s]} earlier`}
                onClick={() => swap(i)}
                sx={{ color: 'inherit', ml: 1, minWidth: 32 }}
              >
                earlier
              </Button>
            )}
          </Box>
        ))}
      </Box>
      <Box role="status" sx={{ fontSize: '0.9rem' }}>
        {lowered.length === 0 ? 'Nothing is lowered now.' : `Now: ${lowered.join(', ')}.`}
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, fontSize: '0.9rem', mt: 0.5 }}>
        <Button
          variant="outlined"
          title="The picture must come back by itself. Try it before the night, not in it."
          onClick={loseDevice}
          sx={{ color: 'inherit', borderColor: 'var(--bed)' }}
        >
          Lose the graphics device
        </Button>
        <Box role="status">
          {regained > 0 ? `lost and regained ${regained} ${regained === 1 ? 'time' : 'times'}` : ''}
        </Box>
      </Box>
      <Typography variant="h3" component="h3" sx={{ mt: 1 }}>
        What each part costs here
      </Typography>
      {sorted.length === 0 && <Box sx={{ fontSize: '0.9rem', color: 'var(--faint)' }}>Measuring …</Box>}
      <Box role="list" aria-label="Costs" sx={{ display: 'grid', gap: 0.25 }}>
        {sorted.map(({ id, ms }) => (
          <Box
            key={id}
            role="listitem"
            sx={{
              display: 'grid',
              gridTemplateColumns: 'minmax(0, 1fr) 84px 78px',
              alignItems: 'center',
              gap: 1,
              fontSize: '0.9rem',
            }}
          >
            <Box sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
              {partName(show, id)}
            </Box>
            <Box aria-hidden sx={{ height: 8, background: 'var(--bed)' }}>
              <Box sx={{ height: 8, width: `${(100 * ms) / most}%`, background: 'currentColor' }} />
            </Box>
            <Box sx={{ textAlign: 'right', whiteSpace: 'nowrap', fontVariantNumeric: 'tabular-nums' }}>
              {ms.toFixed(2)} ms
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

'use client';
import { Box, Typography } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { formatNumber } from '../../core/parameters';
import { findSignal, restOf, setRest, type Thing } from '../../core/show';
import { MoveThis } from '../route/MoveThis';
import { ShowIt } from '../route/ShowIt';
import { edit, endDrag, useSession } from '../state/session';
import { look, useView } from '../state/view';
import { ColourField } from './ColourField';
import { NameField } from './NameField';
import { NumberField } from './NumberField';
import { ColourNow, ParameterNow, ParameterTrack } from './ParameterTrack';

/** Everything about one thing's parameters: rest, reach, now, what moves each, and always a way to move it. */
/** @param before - between the name and the parameters @param footer - after them */
export function ThingPanel({
  thing,
  onRename,
  before,
  footer,
}: {
  readonly thing: Thing;
  readonly onRename: (name: string) => void;
  readonly before?: ReactNode;
  readonly footer?: ReactNode;
}) {
  const show = useSession((s) => s.history.show);
  const selected = useView((v) => v.route);
  const [naming, setNaming] = useState(false);
  const twin = [...show.figures, ...show.laserFigures].find((f) => f.id === thing.id && f.twin);
  return (
    <>
      <Box
        sx={{ display: 'flex', alignItems: 'baseline', justifyContent: 'space-between', gap: 1, pb: 0.75 }}
      >
        {naming ? (
          <NameField
            autoFocus
            label="Name"
            name={thing.name}
            onLeave={() => setNaming(false)}
            onRename={onRename}
            sx={{ font: 'inherit', fontSize: '1.3rem', width: '60%' }}
          />
        ) : (
          <Typography variant="h2" component="h2" sx={{ flexShrink: 0, maxWidth: '62%' }}>
            <Box
              component="button"
              title="Press to rename"
              onClick={() => setNaming(true)}
              sx={{ all: 'unset', cursor: 'text', minHeight: 32 }}
            >
              {thing.name}
            </Box>
          </Typography>
        )}
        <Box sx={{ color: 'var(--faint)', fontSize: '0.9rem', textAlign: 'right' }}>{thing.what}</Box>
      </Box>
      {before}
      {thing.parameters.map((p) => {
        const key = `${thing.id}/${p.id}`;
        const target = { thing: thing.id, parameter: p.id };
        const routes = show.routes.filter((r) => r.target.thing === thing.id && r.target.parameter === p.id);
        const rest = restOf(thing, p);
        return (
          <Box
            key={p.id}
            role="group"
            aria-label={p.label}
            sx={{ borderTop: '2px solid var(--bed)', py: 0.75 }}
          >
            <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 32 }}>
              <Typography variant="h3" component="h3" title={p.help} sx={{ flex: 1 }}>
                {p.label}
              </Typography>
              {p.kind === 'number' ? (
                <>
                  <Box component="span" sx={{ color: 'var(--faint)', fontSize: '0.86rem' }}>
                    rests at
                  </Box>
                  <NumberField
                    label={`${p.label} at rest`}
                    value={rest as number}
                    unit={p.unit}
                    min={p.min}
                    max={p.max}
                    step={p.step}
                    usual={p.rest}
                    onChange={(v) =>
                      edit(`rest of ${thing.name} · ${p.label}`, setRest(target, v), `rest ${key}`)
                    }
                    onEnd={endDrag}
                  />
                  <Box sx={{ fontWeight: 700, minWidth: 78, textAlign: 'right' }}>
                    <ParameterNow at={key} parameter={p} />
                  </Box>
                </>
              ) : (
                <>
                  <Box component="span" sx={{ color: 'var(--faint)', fontSize: '0.86rem' }}>
                    rests at
                  </Box>
                  <ColourField
                    label={`${p.label} at rest`}
                    value={String(rest)}
                    onChange={(v) =>
                      edit(`rest of ${thing.name} · ${p.label}`, setRest(target, v), `rest ${key}`)
                    }
                    onEnd={endDrag}
                  />
                  <ColourNow at={key} />
                </>
              )}
            </Box>
            {p.kind === 'number' && (
              <ParameterTrack
                at={key}
                name={`${thing.name} · ${p.label}`}
                parameter={p}
                rest={rest as number}
                routes={routes.map((r) => ({ reach: r.reach as number, amount: r.shaping.amount }))}
              />
            )}
            <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, flexWrap: 'wrap', minHeight: 34 }}>
              {routes.map((r) => (
                <Box
                  key={r.id}
                  component="button"
                  aria-pressed={r.id === selected}
                  onClick={() => look({ route: r.id === selected ? null : r.id, signal: r.signal })}
                  sx={(t) => ({
                    all: 'unset',
                    cursor: 'pointer',
                    fontSize: '0.88rem',
                    px: 0.75,
                    minHeight: 30,
                    display: 'inline-flex',
                    alignItems: 'center',
                    background: 'var(--bed)',
                    color: t.ink.paperText,
                    boxShadow: r.id === selected ? `inset 0 -4px 0 ${t.ink.selected}` : 'none',
                    textDecoration: r.muted ? 'line-through' : 'none',
                    '&:focus-visible': { outline: `3px solid ${t.ink.now}` },
                  })}
                >
                  {findSignal(show, r.signal)?.name ?? 'lost signal'}
                  {p.kind === 'number' ? ` → ${formatNumber(r.reach as number, p)}` : ''}
                </Box>
              ))}
              {routes.length === 0 && (
                <Box component="span" sx={{ color: 'var(--faint)', fontSize: '0.88rem' }}>
                  {twin ? (p.id in twin.rest ? 'its own' : 'as its original') : 'still'}
                </Box>
              )}
              <Box sx={{ flex: 1 }} />
              {p.kind === 'number' && (
                <ShowIt target={target} name={`${thing.name} · ${p.label}`} parameter={p} />
              )}
              <MoveThis target={target} label={`${thing.name} · ${p.label}`} dark />
            </Box>
          </Box>
        );
      })}
      {footer}
    </>
  );
}

'use client';
import type { SxProps, Theme } from '@mui/material';
import type { Signal } from '../../core/show';
import { TraceCanvas } from './TraceCanvas';
import { VectorCanvas } from './VectorCanvas';

/** A signal as it looks: its recent past, or for a row of numbers the row as it is now. */
export function SignalTrace({
  signal,
  columns,
  sx,
}: {
  readonly signal: Pick<Signal, 'id' | 'kind' | 'ear' | 'measure'>;
  readonly columns?: number;
  readonly sx?: SxProps<Theme>;
}) {
  const listening = signal.ear?.listening;
  if (signal.kind === 'vector')
    return (
      <VectorCanvas
        signal={signal.id}
        wave={listening?.kind === 'vector' && listening.of === 'waveform'}
        {...(sx && { sx })}
      />
    );
  return (
    <TraceCanvas
      signal={signal.id}
      kind={signal.kind === 'colour' ? 'event' : signal.kind}
      place={signal.measure === 'note' || signal.measure === 'hz' || signal.measure === 'bpm'}
      {...(columns !== undefined && { columns })}
      {...(sx && { sx })}
    />
  );
}

'use client';
import { Box, Button, Checkbox, Dialog, Typography } from '@mui/material';
import { useState } from 'react';
import { type RowOrder, ROW_ORDERS } from '../../core/lights';
import { fanOut, findParameter, findSignal, thingsOf } from '../../core/show';
import { heardOf } from '../bench/fitToHeard';
import { Choice } from '../controls/Choice';
import { ORDER_WORDS } from '../controls/orderWords';
import { currentShow, edit, useSession } from '../state/session';
import { say } from '../state/notices';
import { look, useView } from '../state/view';

/** A row of numbers onto many things in one act: each member moves the same parameter of another thing. */
export function FanOut() {
  const fanning = useView((v) => v.fanning);
  return fanning ? (
    <Ask
      key={`${fanning.signal} ${fanning.target.thing} ${fanning.target.parameter}`}
      signal={fanning.signal}
      thing={fanning.target.thing}
      parameter={fanning.target.parameter}
      only={fanning.only ?? null}
    />
  ) : null;
}

function Ask({
  signal,
  thing,
  parameter,
  only,
}: {
  readonly signal: string;
  readonly thing: string;
  readonly parameter: string;
  readonly only: readonly string[] | null;
}) {
  const show = useSession((s) => s.history.show);
  const ear = findSignal(show, signal)?.ear ?? null;
  const end = findParameter(show, { thing, parameter });
  const all = end
    ? thingsOf(show).filter((t) =>
        t.parameters.some((p) => p.id === parameter && p.kind === end.parameter.kind),
      )
    : [];
  const like = only ? only.flatMap((id) => all.find((t) => t.id === id) ?? []) : all;
  const [order, setOrder] = useState<RowOrder>('along');
  // Of one kind with what it was dropped on: lamps with a lamp, figures of its form with a figure.
  const [off, setOff] = useState<ReadonlySet<string>>(
    () =>
      new Set(
        like
          .filter(
            (t) =>
              !only &&
              (t.kind !== end?.thing.kind ||
                (t.kind === 'figure' && t.what !== end.thing.what && t.id !== thing)),
          )
          .map((t) => t.id),
      ),
  );
  const close = (): void => look({ fanning: null, aiming: null });
  if (!ear || !end) return null;
  const on = like.filter((t) => !off.has(t.id));
  const make = (): void => {
    const fan = fanOut(
      currentShow(),
      ear,
      on.map((t) => t.id),
      parameter,
      heardOf,
      order,
    );
    if (fan.routes.length === 0) {
      say(
        'warning',
        `${ear.name} has too many points to stand one for one. Choose bands, or a vector of up to 64 points.`,
      );
      return;
    }
    edit(`fan ${ear.name} out onto ${fan.routes.length} × ${end.parameter.label}`, fan.command);
    look({ fanning: null, aiming: null, route: fan.routes[0]!.id, signal: ear.id });
  };
  return (
    <Dialog
      open
      onClose={close}
      aria-labelledby="fan-title"
      slotProps={{ paper: { sx: { p: 3, minWidth: 380 } } }}
    >
      <Typography id="fan-title" variant="h2">
        {ear.name} onto {end.parameter.label}
      </Typography>
      <Box sx={{ my: 1.5 }}>Each member moves one of these, from where it rests.</Box>
      <Choice<RowOrder>
        label="the row lies"
        value={order}
        options={ROW_ORDERS.map((o) => [o, ORDER_WORDS[o]])}
        onChange={setOrder}
        sx={{ mb: 1 }}
      />
      <Box sx={{ display: 'grid', maxHeight: 300, overflowY: 'auto' }}>
        {like.map((t) => (
          <Box key={t.id} component="label" sx={{ display: 'flex', alignItems: 'center', minHeight: 36 }}>
            <Checkbox
              checked={!off.has(t.id)}
              onChange={(e) => {
                const next = new Set(off);
                if (e.target.checked) next.delete(t.id);
                else next.add(t.id);
                setOff(next);
              }}
            />
            {t.name}
          </Box>
        ))}
      </Box>
      <Box sx={{ display: 'flex', gap: 1, mt: 2 }}>
        <Button variant="contained" disabled={on.length === 0} onClick={make}>
          Make {on.length} {on.length === 1 ? 'route' : 'routes'}
        </Button>
        <Button variant="text" onClick={close}>
          Never mind
        </Button>
      </Box>
    </Dialog>
  );
}

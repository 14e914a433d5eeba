'use client';
import { Box } from '@mui/material';
import { useEffect } from 'react';
import { placeGrid } from '../controls/placeGrid';
import { theEngine, useSession } from '../state/session';
import { look, useView } from '../state/view';
import { Ears } from './Ears';
import { Field } from './Field';
import { Inputs } from './Inputs';
import { TryEar } from './TryEar';

/** Listen: what comes in, the field on which ranges are drawn, and the ears. */
export function ListenPlace() {
  const inputs = useSession((s) => s.history.show.inputs);
  const chosen = useView((v) => v.input);
  const trying = useView((v) => v.trying);
  const input = inputs.find((i) => i.id === chosen) ?? inputs[0];
  useEffect(() => {
    theEngine()?.watch(input?.id ?? null);
    return () => theEngine()?.watch(null);
  }, [input?.id]);
  useEffect(() => {
    theEngine()?.setDrafts(trying ? [trying] : []);
    return () => theEngine()?.setDrafts([]);
  }, [trying]);
  useEffect(() => () => look({ trying: null }), []);
  return (
    <Box sx={{ ...placeGrid('268px minmax(0, 1fr) minmax(250px, 316px)'), gap: 2, px: 1.5, pt: 1, pb: 1.5 }}>
      <Inputs current={input?.id ?? null} />
      <Box
        sx={{
          display: 'grid',
          gridTemplateRows: { xs: '440px auto', md: 'minmax(220px, 1fr) auto' },
          gap: 1.25,
          minHeight: 0,
          minWidth: 0,
        }}
      >
        <Field input={input ?? null} />
        {trying && <TryEar ear={trying} />}
      </Box>
      <Ears input={input ?? null} />
    </Box>
  );
}

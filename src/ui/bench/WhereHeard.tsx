'use client';
import { Box } from '@mui/material';
import { changeEar, type Ear, type Signal } from '../../core/show';
import { ChannelOf, hearsChannels, HearsOf } from '../listen/EarAim';
import { retitled } from '../listen/names';
import { SourceSetting } from '../route/SourceSetting';
import { currentShow, edit } from '../state/session';

/** Where a route's signal comes from, to be changed where one stands: its ear's input and channel, or its maker's source. */
export function WhereHeard({ signal: { ear, maker } }: { readonly signal: Signal }) {
  const change = (what: Partial<Omit<Ear, 'id'>>): void => {
    if (ear) edit(`set ${ear.name}`, changeEar(ear.id, retitled(currentShow(), ear, what)));
  };
  return (
    <Box sx={{ display: 'grid', gap: 0.5, justifyItems: 'start' }}>
      {ear && ear.listening.kind !== 'beat' && <HearsOf ear={ear} onChange={change} />}
      {ear && hearsChannels(ear) && <ChannelOf ear={ear} onChange={change} />}
      {maker && <SourceSetting maker={maker} />}
    </Box>
  );
}

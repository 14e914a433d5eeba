'use client';
import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import { secondUrl } from '../../core/protocols';
import { AddressDialog, useBaseAddress } from '../controls/AddressDialog';
import { EntryField } from '../controls/EntryField';
import { standBy, useFirst } from '../state/second';
import { useSession } from '../state/session';

/** Two computers with the same show: one drives, the other follows it and drives in its place when it is gone. */
export function SecondComputer() {
  const [open, setOpen] = useState(false),
    key = useSession((s) => s.outlets?.phoneKey ?? null),
    { base } = useBaseAddress(),
    seconds = useSession((s) => s.outlets?.seconds ?? 0),
    first = useFirst((f) => f.address);
  const address = key && base ? `${base}/second?key=${key}` : null;
  return (
    <Box>
      <Typography variant="h3">A second computer</Typography>
      <Box sx={{ mt: 1, display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        {first === null ? (
          <>
            <Box sx={{ maxWidth: 520 }}>
              {seconds === 0
                ? 'It opens the same show from a file, and stands by: it sends nothing until this one is gone.'
                : seconds === 1
                  ? 'One computer stands by for this one.'
                  : `${seconds} computers stand by for this one.`}
            </Box>
            <Button variant="outlined" onClick={() => setOpen(true)}>
              This one is the first …
            </Button>
            <span>or it stands by for</span>
            <EntryField
              label="Address of the first computer"
              value=""
              read={(text) => (secondUrl(text.trim()) ? text.trim() : null)}
              wrong="Paste the address that the first computer shows here: http://…/second?key=…"
              width={260}
              onChange={(given) => void standBy(given)}
            />
          </>
        ) : (
          <Following address={first} />
        )}
      </Box>
      <AddressDialog
        open={open}
        onClose={() => setOpen(false)}
        title="This one is the first"
        text="On the other computer: start Batucada, open the same show from a file, and in Tonight, under prepare, paste this address. It follows what is performed here. When this computer is gone for two seconds, that one drives; as soon as this one drives again and is armed, it gives the outputs back."
        who="another"
        address={address}
        what="the address for a second computer"
      />
    </Box>
  );
}

function Following({ address }: { readonly address: string }) {
  const standby = useSession((s) => s.outlets?.standby ?? null),
    { name, same } = useFirst();
  const how =
    standby?.state === 'follows'
      ? 'It follows the first, and sends nothing.'
      : standby?.state === 'drives'
        ? 'The first is gone: this one drives in its place.'
        : standby?.heard
          ? 'The first is there, but no window drives it yet.'
          : 'The first is not heard yet. Look whether it runs, and whether the address is right.';
  return (
    <>
      <Box role="status" sx={{ maxWidth: 560 }}>
        This computer stands by for {new URL(address).host}. {how}
        {name !== null && !same && (
          <Box sx={{ borderLeft: '6px solid', pl: 1, mt: 0.5 }}>
            The first has another show or another edit of it: “{name}”. Save it there to a file, and open that
            here.
          </Box>
        )}
      </Box>
      <Button variant="outlined" onClick={() => void standBy(null)}>
        stand by no more
      </Button>
    </>
  );
}

'use client';
import { Box, Button } from '@mui/material';
import { FONT } from '../theme/tokens';
import { say } from '../state/notices';

/** An address that another program or machine loads, to be copied. Null while it is not known yet. */
export function CopyAddress({
  address,
  what,
  ...rest
}: {
  readonly address: string | null;
  /** What is there, where several addresses can be copied. */
  readonly what?: string;
  readonly 'data-testid'?: string;
}) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: 'wrap', mt: 0.5 }}>
      <Box
        component="code"
        {...rest}
        sx={{ fontFamily: FONT.number, fontSize: '0.88rem', wordBreak: 'break-all', flex: '1 1 300px' }}
      >
        {address ?? 'waiting for the bridge …'}
      </Box>
      <Button
        variant="contained"
        disabled={!address}
        aria-label={what && `Copy the address of ${what}`}
        onClick={() => {
          if (address)
            void navigator.clipboard.writeText(address).then(
              () => say('done', 'The address is copied.'),
              () => say('warning', 'The browser would not copy it. Select it and copy it by hand.'),
            );
        }}
      >
        Copy
      </Button>
    </Box>
  );
}

'use client';
import { Button } from '@mui/material';
import { closeSnackbar, enqueueSnackbar } from 'notistack';
import { createElement } from 'react';

/**
 * A short word to the user that goes by itself; a warning stays until it is read.
 * @param way - what can be done about it in one press
 */
export function say(
  kind: 'done' | 'warning',
  text: string,
  way?: { readonly label: string; readonly act: () => void },
): void {
  enqueueSnackbar(text, {
    variant: kind === 'warning' ? 'warning' : 'default',
    autoHideDuration: kind === 'warning' || way ? 12000 : 4000,
    preventDuplicate: true,
    ...(way && {
      action: (key) =>
        createElement(
          Button,
          {
            variant: 'text',
            sx: { color: 'inherit' },
            onClick: () => {
              closeSnackbar(key);
              way.act();
            },
          },
          way.label,
        ),
    }),
  });
}

'use client';
import { enqueueSnackbar } from 'notistack';

/** A short word to the user that goes by itself; a warning stays until it is read. */
export function say(kind: 'done' | 'warning', text: string): void {
  enqueueSnackbar(text, {
    variant: kind === 'warning' ? 'warning' : 'default',
    autoHideDuration: kind === 'warning' ? 12000 : 4000,
    preventDuplicate: true,
  });
}

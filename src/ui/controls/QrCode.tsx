'use client';
import { Box } from '@mui/material';
import { create } from 'qrcode';
import { useMemo } from 'react';

/** Modules that stay white around the code, as the standard asks. */
const QUIET = 4;

/** A text as a code that phones scan: dark on light in either theme, or they would not read it. */
export function QrCode({ text, label }: { readonly text: string; readonly label: string }) {
  const { path, size } = useMemo(() => {
    const { modules } = create(text, { errorCorrectionLevel: 'M' });
    let path = '';
    for (let y = 0; y < modules.size; y++)
      for (let x = 0; x < modules.size; x++)
        if (modules.get(y, x)) path += `M${x + QUIET} ${y + QUIET}h1v1h-1z`;
    return { path, size: modules.size + 2 * QUIET };
  }, [text]);
  return (
    <Box
      component="svg"
      role="img"
      aria-label={`Code to scan: ${label}`}
      viewBox={`0 0 ${size} ${size}`}
      shapeRendering="crispEdges"
      sx={{ width: 240, height: 240, display: 'block', background: '#ffffff' }}
    >
      <path d={path} fill="#000000" />
    </Box>
  );
}

'use client';
import { Box, Button } from '@mui/material';
import { useState, type ReactNode } from 'react';

/** What is not needed at every look: opened by its title. */
export function Folded({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <Box sx={{ borderTop: '2px solid var(--bed)', py: 0.75 }}>
      <Button
        variant="text"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        sx={{ color: 'inherit', px: 0, fontWeight: 700 }}
      >
        {open ? '−' : '+'} {title}
      </Button>
      {open && children}
    </Box>
  );
}

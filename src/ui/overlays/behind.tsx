'use client';
import { Box } from '@mui/material';
import { useEffect, useState } from 'react';
import { create } from 'zustand';
import type { Overlay } from '../../core/show';
import { db } from '../../data/database';
import { say } from '../state/notices';
import { HostCamera } from './HostCamera';

/** What is seen behind an overlay while it is worked on, in this window only. */
export type Behind = 'host' | 'checks' | 'camera' | 'still';
export const useBehind = create<{ readonly way: Behind }>(() => ({ way: 'host' }));

const CHECKS = 'repeating-conic-gradient(#26343d 0 25%, #1b2830 0 50%) 0 0 / 24px 24px';
const filled = { position: 'absolute', inset: 0, width: '100%', height: '100%', objectFit: 'cover' } as const;

export function BehindOverlay({ overlay, way }: { readonly overlay: Overlay; readonly way: Behind }) {
  if (way === 'host') return <HostCamera />;
  if (way === 'camera') return <OwnCamera />;
  if (way === 'still' && overlay.still) return <Still media={overlay.still} />;
  return <Box sx={{ position: 'absolute', inset: 0, background: CHECKS }} />;
}

function OwnCamera() {
  const [stream, setStream] = useState<MediaStream | null>(null);
  useEffect(() => {
    let over = false,
      got: MediaStream | null = null;
    navigator.mediaDevices.getUserMedia({ video: { width: { ideal: 1280 } } }).then(
      (s) => {
        got = s;
        if (over) for (const t of s.getTracks()) t.stop();
        else setStream(s);
      },
      () => {
        say('warning', 'No camera can be used. Plug one in, and allow it for this address.');
        useBehind.setState({ way: 'host' });
      },
    );
    return () => {
      over = true;
      for (const t of got?.getTracks() ?? []) t.stop();
    };
  }, []);
  return (
    <video
      ref={(v) => {
        if (v && v.srcObject !== stream) v.srcObject = stream;
      }}
      autoPlay
      muted
      playsInline
      style={filled}
    />
  );
}

function Still({ media }: { readonly media: string }) {
  const [url, setUrl] = useState<string | null>(null);
  useEffect(() => {
    let made: string | null = null,
      over = false;
    void db()
      .media.get(media)
      .then((file) => {
        if (file && !over) setUrl((made = URL.createObjectURL(file.blob)));
      });
    return () => {
      over = true;
      if (made) URL.revokeObjectURL(made);
    };
  }, [media]);
  if (!url) return <Box sx={{ position: 'absolute', inset: 0, background: CHECKS }} />;
  return <Box component="img" src={url} alt="" sx={filled} />;
}

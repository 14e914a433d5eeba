'use client';
import { Box, Button } from '@mui/material';
import { useState } from 'react';
import { CAMERA_ID, PICTURE_SURFACE, surfaceIdOf, WHOLE_PICTURE } from '../../core/show';
import { clockText } from '../controls/amounts';
import { useSession } from '../state/session';
import { useRecording } from './recording';
import { Screens } from './Screens';
import { SurfaceEditor } from './SurfaceEditor';
import { WholePanel } from './WholePanel';

/** Picture: what is drawn, directly handled; its figures; and everything about the selected one. */
export function PicturePlace() {
  const show = useSession((s) => s.history.show),
    recording = useRecording((r) => r.now);
  const [screens, setScreens] = useState(false);
  const own = show.figures.filter((f) => surfaceIdOf(f) === WHOLE_PICTURE),
    whole = show.finishes.filter((f) => f.on === WHOLE_PICTURE).length;
  return (
    <SurfaceEditor
      surface={PICTURE_SURFACE}
      usual={(own.find((f) => f.id === 'ferry') ?? own[0])?.id ?? ''}
      whole={<WholePanel />}
      ends={[
        [
          WHOLE_PICTURE,
          'Whole picture',
          whole === 0 ? 'no finishes' : whole === 1 ? '1 finish' : `${whole} finishes`,
        ],
        [CAMERA_ID, 'Camera', show.routes.some((r) => r.target.thing === CAMERA_ID) ? 'moved' : 'still'],
      ]}
      acts={
        <>
          {recording && (
            <Box role="status" aria-label="Recording" sx={{ fontSize: '0.9rem', fontWeight: 700 }}>
              ● {recording.seconds === null ? '…' : clockText(recording.seconds)}
            </Box>
          )}
          <Button variant="outlined" onClick={() => setScreens(true)}>
            Screens …
          </Button>
          <Screens open={screens} onClose={() => setScreens(false)} />
        </>
      }
    />
  );
}

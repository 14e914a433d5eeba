'use client';
import { Box, ButtonBase, Dialog, Typography } from '@mui/material';
import { useRef } from 'react';
import { PICTURE_HEIGHT, PICTURE_WIDTH } from '../../core/figures';
import { addFigure, freeId, freeName, newEdgeForm, newFigure, type Surface } from '../../core/show';
import { currentShow, edit, endDrag } from '../state/session';
import { look } from '../state/view';
import { type Filed, FILES, takeFile, wantsFile } from './figureFiles';
import { NEW_FIGURES, type NewFigure } from './newFigures';
import { useSurface } from './surface';
import { Thumbnail } from './Thumbnail';

/** Places are told for a picture of the usual size. */
const onThis = (
  { x, y }: { x: number; y: number },
  { width, height }: Surface,
): { x: number; y: number } => ({
  x: Math.round((x / PICTURE_WIDTH) * width),
  y: Math.round((y / PICTURE_HEIGHT) * height),
});

/** Every kind of figure, shown by what it does. */
export function AddFigure({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  const surface = useSurface();
  const file = useRef<HTMLInputElement>(null),
    waiting = useRef<{ readonly id: string; readonly kind: Filed } | null>(null);
  const add = ({ name, form, at }: NewFigure): void => {
    onClose();
    const id = freeId(currentShow(), 'figure');
    edit(
      `add ${name}`,
      addFigure(
        newFigure(
          id,
          freeName(currentShow().figures, name),
          form.kind === 'edge' && form.outline === 'rectangle' ? newEdgeForm(surface) : form,
          onThis(at, surface),
          {},
          surface.id,
        ),
      ),
      `add ${id}`,
    );
    look({ figure: id, finish: null, also: [] });
    const kind = wantsFile(form);
    if (!kind || !file.current) {
      endDrag();
      return;
    }
    // What it is of is asked for at once; without it the figure stands there empty.
    waiting.current = { id, kind };
    file.current.accept = FILES[kind];
    file.current.click();
  };
  const take = async (chosen: File | undefined): Promise<void> => {
    const { current: one } = waiting;
    if (chosen && one) await takeFile(one.kind, one.id, chosen, `add ${one.id}`);
    endDrag();
  };
  return (
    <>
      <input
        ref={file}
        type="file"
        hidden
        aria-label="File of a new figure"
        onChange={(e) => {
          const [chosen] = e.currentTarget.files ?? [];
          e.currentTarget.value = '';
          void take(chosen);
        }}
      />
      <Dialog
        open={open}
        onClose={onClose}
        maxWidth={false}
        aria-labelledby="add-figure"
        slotProps={{ paper: { sx: { p: 2.5, width: 'min(1080px, 94vw)' } } }}
      >
        <Typography id="add-figure" variant="h2">
          Add a figure
        </Typography>
        {NEW_FIGURES.map(({ title, all }) => (
          <Box key={title} component="section" aria-label={title} sx={{ mt: 1.5 }}>
            <Typography variant="h3" component="h3" sx={{ mb: 0.75 }}>
              {title}
            </Typography>
            <Box
              sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(104px, 1fr))', gap: 1 }}
            >
              {all.map((n) => (
                <ButtonBase
                  key={n.name}
                  title={n.help}
                  onClick={() => add(n)}
                  sx={(t) => ({
                    display: 'grid',
                    justifyItems: 'stretch',
                    textAlign: 'left',
                    p: 0.75,
                    background: t.ink.sheet,
                    color: t.ink.sheetText,
                    '&:hover, &:focus-visible': { background: t.ink.paper, color: t.ink.paperText },
                  })}
                >
                  <Thumbnail form={n.form} />
                  <Box component="span" sx={{ fontWeight: 700, fontSize: '0.92rem', pt: 0.5 }}>
                    {n.name}
                  </Box>
                </ButtonBase>
              ))}
            </Box>
          </Box>
        ))}
      </Dialog>
    </>
  );
}

'use client';
import { createContext, useContext, useMemo } from 'react';
import { onSurface, PICTURE_SURFACE, type OnSurface, type Surface } from '../../core/show';
import { useSession } from '../state/session';

/** The surface that is worked on: the picture, unless a place says otherwise. */
export const SurfaceContext = createContext<Surface>(PICTURE_SURFACE);
export const useSurface = (): Surface => useContext(SurfaceContext);

/** What is drawn on it. */
export function useOnSurface(): OnSurface {
  const { id } = useSurface(),
    figures = useSession((s) => s.history.show.figures),
    figureGroups = useSession((s) => s.history.show.figureGroups),
    finishes = useSession((s) => s.history.show.finishes);
  return useMemo(
    () => onSurface({ figures, figureGroups, finishes }, id),
    [figures, figureGroups, finishes, id],
  );
}

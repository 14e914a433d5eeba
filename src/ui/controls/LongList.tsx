'use client';
import { Box, type SxProps, type Theme } from '@mui/material';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type ReactNode } from 'react';

/** A list of so many is drawn whole: everything in it can be found by the browser's own means. Of longer ones only what is seen is drawn. */
const WHOLE = 80;

/** Where an item of a list stands within it, in pixels; also one that is not drawn. Null for none. */
type PlaceOf = (key: string) => { readonly start: number; readonly size: number } | null;
const places = new WeakMap<Element, PlaceOf>();
export const placeIn = (list: Element, key: string): ReturnType<PlaceOf> => places.get(list)?.(key) ?? null;

interface LongListProps<T> {
  readonly items: readonly T[];
  readonly keyOf: (item: T) => string;
  /** Pixels that one takes before it was measured, and between two. */
  readonly estimate: number;
  readonly gap: number;
  readonly label: string;
  readonly render: (item: T) => ReactNode;
  /** The item that is to be seen, whenever it becomes another. */
  readonly shown?: string | null;
  readonly across?: boolean;
  /** What stands after the last. */
  readonly children?: ReactNode;
  readonly column?: string;
  readonly sx?: SxProps<Theme>;
}

/** A list that is drawn as far as it is seen, however long it is; its items may be of any height. */
export function LongList<T>(props: LongListProps<T>) {
  return props.items.length > WHOLE ? <Windowed {...props} /> : <Whole {...props} />;
}

const frame = (across: boolean, gap: number): SxProps<Theme> => ({
  [across ? 'overflowX' : 'overflowY']: 'auto',
  display: 'flex',
  flexDirection: across ? 'row' : 'column',
  alignItems: across ? 'flex-end' : undefined,
  gap: `${gap}px`,
});

function Whole<T>({ items, gap, label, render, across = false, children, column, sx }: LongListProps<T>) {
  return (
    <Box
      role="list"
      aria-label={label}
      data-column={column}
      sx={[frame(across, gap), ...(Array.isArray(sx) ? sx : [sx])] as SxProps<Theme>}
    >
      {items.map(render)}
      {children}
    </Box>
  );
}

function Windowed<T>({
  items,
  keyOf,
  estimate,
  gap,
  label,
  render,
  shown = null,
  across = false,
  children,
  column,
  sx,
}: LongListProps<T>) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => estimate,
    getItemKey: (i) => keyOf(items[i]!),
    overscan: 4,
    gap,
    horizontal: across,
  });
  useEffect(() => {
    const at = scroller.current;
    if (!at) return;
    const index = new Map(items.map((item, i) => [keyOf(item), i]));
    places.set(at, (key) => {
      const i = index.get(key),
        place = i === undefined ? undefined : virtual.measurementsCache[i];
      return place ? { start: place.start, size: place.size } : null;
    });
  });
  useEffect(() => {
    const i = shown === null ? -1 : items.findIndex((item) => keyOf(item) === shown);
    if (i >= 0) virtual.scrollToIndex(i, { align: 'auto' });
    // Only when it becomes another: whoever scrolls away from it may.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shown]);
  return (
    <Box
      ref={scroller}
      role="list"
      aria-label={`${label}, ${items.length}`}
      data-column={column}
      sx={[frame(across, gap), ...(Array.isArray(sx) ? sx : [sx])] as SxProps<Theme>}
    >
      <div
        style={{
          position: 'relative',
          flex: 'none',
          [across ? 'width' : 'height']: virtual.getTotalSize(),
          [across ? 'height' : 'width']: across ? 118 : '100%',
        }}
      >
        {virtual.getVirtualItems().map(({ key, index, start }) => (
          <div
            key={key}
            data-index={index}
            ref={virtual.measureElement}
            style={{
              position: 'absolute',
              ...(across ? { bottom: 0, left: start } : { top: start, left: 0, width: '100%' }),
            }}
          >
            {render(items[index]!)}
          </div>
        ))}
      </div>
      {children}
    </Box>
  );
}

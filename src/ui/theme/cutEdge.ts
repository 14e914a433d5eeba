import { seeded } from '../../core/random';

/**
 * A slightly hand-cut outline as a `clip-path`, made once per seed: it follows its element's size by itself and costs nothing
 * when what is inside moves.
 * @param stray - how far the knife strays, in px
 */
export function cutEdge(seed: number, stray = 2, strokes = 7): string {
  const random = seeded(seed);
  const off = (): string => `${(random() * stray).toFixed(1)}px`;
  const along = (i: number): string => `${((i / strokes) * 100).toFixed(1)}%`;
  const points: string[] = [];
  for (let i = 0; i < strokes; i++) points.push(`${along(i)} ${off()}`);
  const tall = Math.max(2, Math.round(strokes / 2));
  for (let i = 0; i < tall; i++) points.push(`calc(100% - ${off()}) ${((i / tall) * 100).toFixed(1)}%`);
  for (let i = strokes; i > 0; i--) points.push(`${along(i)} calc(100% - ${off()})`);
  for (let i = tall; i > 0; i--) points.push(`${off()} ${((i / tall) * 100).toFixed(1)}%`);
  return `polygon(${points.join(',')})`;
}

const made = Array.from({ length: 12 }, (_, i) => cutEdge(i * 7 + 3));
/** One of a dozen edges, the same for the same name. */
export function edgeOf(name: string): string {
  let n = 0;
  for (let i = 0; i < name.length; i++) n = (n * 31 + name.charCodeAt(i)) >>> 0;
  return made[n % made.length]!;
}

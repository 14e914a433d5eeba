import { PICTURE_WIDTH, PICTURE_HEIGHT } from '../../core/figures';
import {
  addFigure,
  Do,
  type FigureRows,
  LASER_ROWS,
  LASER_VALUES,
  LaserPaths,
  type LaserSetting,
  laserParameters,
  pathsOfForm,
  pathsOfFrames,
  PointMaker,
  pointsFor,
  USUAL_LASER,
} from '../../core/laser';
import type { PlanMap } from '../../core/plan';
import { type Figure, type LaserFigure, parameterKey } from '../../core/show';
import { figureOutline } from '../picture/figures/figureOutline';

/** What of a frame the laser reads. */
interface LaserFrame {
  readonly parameters: Float32Array;
  readonly vectors: Float32Array;
  readonly time: number;
  readVectors(): boolean;
}
/** Where a figure of the picture stands, in a frame: −1 where it has no such parameter. */
interface Followed {
  readonly figure: Figure;
  readonly places: Int32Array;
}
const FOLLOWED = ['across', 'height', 'size', 'turn', 'shown'] as const;
/** Half of the picture's width is half of the field. */
const PER_PIXEL = 2 / PICTURE_WIDTH;

interface Drawn {
  readonly figure: LaserFigure;
  /** One for each frame of a file; one for all others. */
  readonly own: readonly LaserPaths[];
  readonly values: Float64Array;
  /** Where each parameter stands in a frame, in their order; −1: nowhere. */
  readonly places: Int32Array;
  readonly rows: FigureRows;
  /** Where each row stands in the frame's vectors, and its buffer. */
  readonly rowAt: (readonly [at: number, row: Float32Array, by: number] | null)[];
  readonly follows: Followed | null;
}
const PARAMETERS = laserParameters();

/** What the laser is to draw, from each frame's numbers: figures to paths, paths to points. `fill` allocates nothing. */
export class LaserStream {
  #maker = new PointMaker(pointsFor(USUAL_LASER));
  #made = '';
  readonly #paths = new LaserPaths();
  #figures: readonly LaserFigure[] = [];
  #picture: readonly Figure[] = [];
  #drawn: Drawn[] = [];
  #time = NaN;
  #wantsRows = false;

  get maker(): PointMaker {
    return this.#maker;
  }
  get isEmpty(): boolean {
    return this.#figures.length === 0;
  }
  /** The scanner that points are made for. */
  suit(setting: LaserSetting): void {
    const points = pointsFor(setting),
      text = JSON.stringify(points);
    if (text === this.#made) return;
    this.#made = text;
    this.#maker = new PointMaker(points);
  }
  /** The figures from now on; what did not change goes on where it was. */
  set(figures: readonly LaserFigure[], picture: readonly Figure[]): void {
    const same = figures === this.#figures,
      follows = figures.some((f) => f.form.kind === 'figure');
    if (same && (picture === this.#picture || !follows)) return;
    const old = new Map(this.#drawn.map((d) => [d.figure.id, d]));
    this.#figures = figures;
    this.#picture = picture;
    this.#drawn = figures.flatMap((figure): Drawn[] => {
      if (figure.off) return [];
      const was = old.get(figure.id),
        { form } = figure,
        of = form.kind === 'figure' ? picture.find((f) => f.id === form.of) : undefined;
      if (form.kind === 'figure' && !of) return [];
      const values = was?.values ?? new Float64Array(Do.Length);
      values[Do.Mirror] = figure.twin?.mirrored ? -1 : 1;
      return [
        {
          figure,
          own:
            was?.figure.form === form && was.follows?.figure.form === of?.form
              ? was.own
              : ownPaths(figure, of),
          values,
          places: new Int32Array(PARAMETERS.length).fill(-1),
          rows: { rise: null, brightness: null, run: null },
          rowAt: [],
          follows: of ? { figure: of, places: new Int32Array(FOLLOWED.length).fill(-1) } : null,
        },
      ];
    });
  }
  /** Where numbers stand from now on. Allocates. */
  place(map: PlanMap): void {
    this.#wantsRows = false;
    for (const d of this.#drawn) {
      const key = (parameter: string): string => parameterKey({ thing: d.figure.id, parameter });
      PARAMETERS.forEach((p, i) => {
        d.places[i] = map.parameters[key(p.id)] ?? -1;
      });
      LASER_ROWS.forEach((id, i) => {
        const at = map.vectors[key(id)];
        d.rowAt[i] = at ? [at[0], new Float32Array(at[1]), LASER_VALUES[id]![1]] : null;
        d.rows[id] = d.rowAt[i]?.[1] ?? null;
        if (at) this.#wantsRows = true;
      });
      if (d.follows)
        FOLLOWED.forEach((id, i) => {
          d.follows!.places[i] =
            map.parameters[parameterKey({ thing: d.follows!.figure.id, parameter: id })] ?? -1;
        });
    }
  }

  /** Makes the points of a frame. @returns how many; they stand in {@link maker} */
  fill(frame: LaserFrame): number {
    const rows = this.#wantsRows && frame.readVectors(),
      dt = Math.max(0, Math.min(0.5, frame.time - this.#time)) || 0;
    this.#time = frame.time;
    this.#paths.clear();
    for (let i = 0; i < this.#drawn.length; i++) this.#add(this.#drawn[i]!, frame, rows, dt);
    return this.#maker.make(this.#paths);
  }
  #add(d: Drawn, frame: LaserFrame, rows: boolean, dt: number): void {
    const { values: v, places, own } = d;
    for (let i = 0; i < places.length; i++) {
      const from = places[i]!,
        p = PARAMETERS[i]!,
        [at, by] = LASER_VALUES[p.id]!;
      if (from < 0) continue;
      if (p.kind === 'colour') for (let c = 0; c < 3; c++) v[at + c] = frame.parameters[from + c]!;
      else v[at] = frame.parameters[from]! / by;
    }
    for (let i = 0; i < d.rowAt.length; i++) {
      const row = d.rowAt[i];
      if (row && rows)
        for (let k = 0; k < row[1].length; k++) row[1][k] = frame.vectors[row[0] + k]! / row[2];
    }
    if (own.length === 0) return;
    // Over and over from the first; a speed that is turned round goes back.
    const laps = d.figure.form.kind === 'frames' ? own.length : 1;
    const phase = v[Do.Phase]! + v[Do.Speed]! * dt;
    v[Do.Phase] = Number.isFinite(phase) ? phase - Math.floor(phase / laps) * laps : 0;
    const at = laps > 1 ? Math.min(own.length - 1, Math.floor(v[Do.Phase])) : 0;
    if (d.follows) this.#addFollower(d, d.follows, own[at]!, frame);
    else addFigure(this.#paths, own[at]!, v, d.rows);
  }
  /** Where the picture's figure is, as large and as turned as it is; its own values come on top. */
  #addFollower(
    { values: v, rows }: Drawn,
    { figure, places }: Followed,
    own: LaserPaths,
    frame: LaserFrame,
  ): void {
    const read = (i: number, otherwise: number): number =>
      places[i]! < 0 ? otherwise : frame.parameters[places[i]!]!;
    const across = v[Do.Across]!,
      height = v[Do.Height]!,
      size = v[Do.Size]!,
      turn = v[Do.Turn]!,
      bright = v[Do.Bright]!;
    v[Do.Across] = across + (figure.at.x + read(0, 0) - PICTURE_WIDTH / 2) * PER_PIXEL;
    v[Do.Height] = height + (figure.at.y + read(1, 0) - PICTURE_HEIGHT / 2) * PER_PIXEL;
    v[Do.Size] = size * read(2, 1);
    v[Do.Turn] = turn + read(3, 0);
    v[Do.Bright] = bright * (figure.hidden ? 0 : read(4, 100) / 100);
    addFigure(this.#paths, own, v, rows);
    v[Do.Across] = across;
    v[Do.Height] = height;
    v[Do.Size] = size;
    v[Do.Turn] = turn;
    v[Do.Bright] = bright;
  }
}

function ownPaths({ form }: LaserFigure, of: Figure | undefined): LaserPaths[] {
  if (form.kind === 'frames') {
    try {
      return pathsOfFrames(form.frames);
    } catch {
      return []; // not what a file's frames are kept as: nothing is drawn
    }
  }
  if (!of) return [pathsOfForm(form)];
  const paths = new LaserPaths();
  for (const run of figureOutline(of.form) ?? []) {
    paths.begin();
    for (let i = 0; i + 1 < run.length; i += 2)
      paths.corner(run[i]! * PER_PIXEL, run[i + 1]! * PER_PIXEL, 1, 1, 1);
  }
  paths.end();
  return [paths];
}

import { Color, Group, InstancedMesh, Matrix4, MeshBasicMaterial, type BufferGeometry } from 'three';
import { METER_PITCH, METER_WIDTH, rampInks } from '../../../core/figures';
import type { Figure } from '../../../core/show';
import { sheet } from '../cut';
import { box } from '../outline';
import { INK, stand, type Drawn } from './drawn';
import { type Places } from '../places';
import { Inks } from '../ramp';

/** How many of so many segments are lit: a segment lights whole, once its upper edge is reached. */
export function litSegments(percent: number, segments: number): number {
  return Math.max(0, Math.min(segments, Math.floor((percent / 100) * segments + 1e-6)));
}

/** A meter of segments that light whole, one after the other, from one ink to another. */
export class MeterFigure implements Drawn {
  readonly object = new Group();
  readonly #segments: number;
  readonly #mesh: InstancedMesh<BufferGeometry, MeshBasicMaterial>;
  readonly #back: InstancedMesh<BufferGeometry, MeshBasicMaterial>;
  readonly #unlit = new Color(INK.shade);
  readonly #inks = new Inks(rampInks('meter'));
  readonly #ink = new Color();
  #lit = -1;
  #base = { x: 0, y: 0 };
  #at = { level: -1, size: -1, height: -1, across: -1 };

  /** @param upright - grows upward; otherwise to the right */
  constructor(segments: number, upright: boolean, figure: Figure, places: Places) {
    this.#segments = segments;
    const long = METER_PITCH - 6,
      outline = upright
        ? box(-METER_WIDTH / 2, 0, METER_WIDTH, long)
        : box(0, -METER_WIDTH / 2, long, METER_WIDTH);
    const made = (grown: number, order: number): InstancedMesh<BufferGeometry, MeshBasicMaterial> => {
      const mesh = new InstancedMesh<BufferGeometry, MeshBasicMaterial>(
        sheet(
          [
            outline.map(
              ([x, y]) =>
                [
                  x + (x > (upright ? 0 : long / 2) ? grown : -grown),
                  y + (y > (upright ? long / 2 : 0) ? grown : -grown),
                ] as const,
            ),
          ],
          71 + order,
          0.9,
        ),
        new MeshBasicMaterial(),
        segments,
      );
      const matrix = new Matrix4();
      for (let i = 0; i < segments; i++)
        mesh.setMatrixAt(
          i,
          upright
            ? matrix.makeTranslation(0, i * METER_PITCH + 3, 0)
            : matrix.makeTranslation(i * METER_PITCH + 3, 0, 0),
        );
      mesh.renderOrder = order;
      this.object.add(mesh);
      return mesh;
    };
    this.#back = made(4, 0);
    this.#back.material.color.set(INK.black);
    this.#mesh = made(0, 1);
    for (let i = 0; i < segments; i++) this.#mesh.setColorAt(i, this.#unlit);
    this.place(figure, places);
  }
  place({ at, ramp }: Figure, places: Places): void {
    this.#base = at;
    this.#at = {
      level: places.of('level'),
      size: places.of('size'),
      height: places.of('height'),
      across: places.of('across'),
    };
    this.#inks.place(places, ramp);
  }
  update(v: Float32Array): void {
    const at = this.#at,
      n = this.#segments,
      lit = litSegments(v[at.level]!, n);
    stand(this.object, this.#base, v, at);
    // Most of the time nothing changes in it: then nothing is sent to the graphics device.
    if (!this.#inks.update(v) && lit === this.#lit) return;
    this.#lit = lit;
    for (let i = 0; i < n; i++)
      this.#mesh.setColorAt(i, i < lit ? this.#inks.at(n > 1 ? i / (n - 1) : 0, this.#ink) : this.#unlit);
    this.#mesh.instanceColor!.needsUpdate = true;
  }
  dispose(): void {
    for (const m of [this.#mesh, this.#back]) {
      m.geometry.dispose();
      m.material.dispose();
      m.dispose();
    }
  }
}

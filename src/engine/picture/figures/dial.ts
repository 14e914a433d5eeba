import { Color, Group, Mesh, MeshBasicMaterial, type BufferGeometry } from 'three';
import { DIAL_RADIUS, DIAL_SWEEP } from '../../../core/figures';
import type { Figure } from '../../../core/show';
import { sheet } from '../cut';
import { disc, type Point } from '../outline';
import { INK, stand, type Drawn } from './drawn';
import { type Places } from '../places';

const DEG = Math.PI / 180;
const UNLIT = new Color(INK.paper).multiplyScalar(0.35),
  LIT = new Color(INK.paper);

/** A closed outline in polar strokes about the middle: what marks a face. */
function spoke(angle: number, from: number, to: number, width: number, point = width): Point[] {
  const c = Math.cos(angle),
    s = Math.sin(angle);
  return [
    [from * c - width * s, from * s + width * c],
    [from * c + width * s, from * s - width * c],
    [to * c + point * s, to * s - point * c],
    [to * c - point * s, to * s + point * c],
  ];
}
/** Part of a ring, from one share of the sweep to another. */
function arc(from: number, to: number, inner: number, outer: number): Point[] {
  const steps = 10,
    at = (k: number): number => dialAngle(from + ((to - from) * k) / steps);
  return [
    ...Array.from({ length: steps + 1 }, (_, k): Point => [outer * Math.cos(at(k)), outer * Math.sin(at(k))]),
    ...Array.from({ length: steps + 1 }, (_, k): Point => [
      inner * Math.cos(at(steps - k)),
      inner * Math.sin(at(steps - k)),
    ]),
  ];
}
/** Where a share of the whole stands on the face: 0 lower left, over the top, 1 lower right; radians, anticlockwise from the right. */
export function dialAngle(share: number): number {
  return (90 + DIAL_SWEEP / 2 - DIAL_SWEEP * share) * DEG;
}

/** A dial of the engine room: a paper face with marks, its last fifth in red, and a needle. */
export class DialFigure implements Drawn {
  readonly object = new Group();
  readonly #needle: Mesh<BufferGeometry, MeshBasicMaterial>;
  readonly #face: Mesh<BufferGeometry, MeshBasicMaterial>;
  readonly #own: Mesh<BufferGeometry, MeshBasicMaterial>[] = [];
  #base = { x: 0, y: 0 };
  #at = { reading: -1, size: -1, glow: -1, height: -1, across: -1, ink: -1 };

  /** @param marks - strokes on the face, the first at nothing and the last at all */
  constructor(marks: number, figure: Figure, places: Places) {
    const r = DIAL_RADIUS;
    const add = (
      outlines: Point[][],
      ink: number,
      seed: number,
      stray = 0.9,
    ): Mesh<BufferGeometry, MeshBasicMaterial> => {
      const mesh = new Mesh(sheet(outlines, seed, stray), new MeshBasicMaterial({ color: ink }));
      mesh.renderOrder = this.#own.length;
      this.#own.push(mesh);
      this.object.add(mesh);
      return mesh;
    };
    add([disc(0, 0, r, 36)], INK.black, 61, 1.4);
    add([disc(0, 0, r * 0.955, 36)], INK.bark, 62, 1.2);
    this.#face = add([disc(0, 0, r * 0.87, 36)], INK.paper, 63, 1.2);
    add([arc(0.8, 1, r * 0.7, r * 0.81)], INK.urucum, 64);
    add(
      Array.from({ length: marks }, (_, i) => {
        const share = marks > 1 ? i / (marks - 1) : 0;
        return spoke(dialAngle(share), r * (i % 2 ? 0.73 : 0.66), r * 0.81, i % 2 ? 1.4 : 2.6);
      }),
      INK.black,
      65,
      0.5,
    );
    this.#needle = add([[...spoke(0, -r * 0.2, r * 0.74, 5.5, 0.6)]], INK.black, 66, 0.5);
    add([disc(0, 0, r * 0.1, 14)], INK.black, 67, 0.6);
    this.place(figure, places);
  }
  place({ at }: Figure, places: Places): void {
    this.#base = at;
    this.#at = {
      reading: places.of('reading'),
      size: places.of('size'),
      glow: places.of('glow'),
      height: places.of('height'),
      across: places.of('across'),
      ink: places.of('ink'),
    };
  }
  update(v: Float32Array): void {
    const at = this.#at;
    stand(this.object, this.#base, v, at);
    this.#needle.rotation.z = dialAngle(v[at.reading]! / 100);
    this.#needle.material.color.setRGB(v[at.ink]!, v[at.ink + 1]!, v[at.ink + 2]!);
    this.#face.material.color.lerpColors(UNLIT, LIT, v[at.glow]! / 100);
  }
  dispose(): void {
    for (const m of this.#own) {
      m.geometry.dispose();
      m.material.dispose();
    }
  }
}

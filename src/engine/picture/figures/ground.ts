import { Group, Mesh, MeshBasicMaterial, PlaneGeometry } from 'three';
import { OVERHANG, type SurfaceSize } from '../../../core/figures';
import { seeded } from '../../../core/random';
import type { Figure } from '../../../core/show';
import { gouges } from '../cut';
import type { Drawn } from './drawn';
import type { Places } from '../places';

/** The printed ground: one ink, with the lines that a gouge leaves in it. */
export class GroundFigure implements Drawn {
  readonly object = new Group();
  readonly #paper = new MeshBasicMaterial();
  readonly #lines = new MeshBasicMaterial();
  readonly #geometries;
  #ink = -1;
  #cut = -1;

  constructor(figure: Figure, places: Places, { width, height }: SurfaceSize) {
    const random = seeded(77);
    const strokes = [];
    for (let y = 264; y < height + 8; y += 15) {
      for (let x = -40 + random() * 60; x < width;) {
        const length = 50 + random() * 190;
        strokes.push({
          x: x + length / 2,
          y: y + (random() - 0.5) * 5,
          length,
          width: 2.6,
          angle: (random() - 0.5) * 0.03,
        });
        x += length + 6 + random() * 40;
      }
    }
    const plane = new PlaneGeometry(width * OVERHANG, height * OVERHANG).translate(width / 2, height / 2, 0);
    const lines = gouges(strokes, 78);
    this.#geometries = [plane, lines];
    const over = new Mesh(lines, this.#lines);
    over.renderOrder = 1;
    this.object.add(new Mesh(plane, this.#paper), over);
    this.place(figure, places);
  }
  place(_: Figure, places: Places): void {
    this.#ink = places.of('ink');
    this.#cut = places.of('lines');
  }
  update(v: Float32Array): void {
    const r = v[this.#ink]!,
      g = v[this.#ink + 1]!,
      b = v[this.#ink + 2]!;
    this.#paper.color.setRGB(r, g, b);
    // Mixed here and not blended: a see-through material would be drawn after, and over, all that is opaque.
    const cut = v[this.#cut]! / 100;
    this.#lines.color.setRGB(
      r + (r * 1.6 + 0.012) * cut,
      g + (g * 1.4 + 0.016) * cut,
      b + (b * 1.2 + 0.018) * cut,
    );
  }
  dispose(): void {
    for (const x of [...this.#geometries, this.#paper, this.#lines]) x.dispose();
  }
}

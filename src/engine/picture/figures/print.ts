import { Color, Group, Mesh, MeshBasicMaterial } from 'three';
import type { PrintForm } from '../../../core/figures';
import { seedOf } from '../../../core/random';
import type { Figure } from '../../../core/show';
import { sheet } from '../cut';
import { INK, type Drawn } from './drawn';
import { type Places } from '../places';
import { layersOf } from './forms';

const DEG = Math.PI / 180;
const UNLIT = new Color(0x33312a);
const LIT = new Color(INK.maize);

/** A printed shape: flat inks cut once, then moved, turned and grown from its anchor. */
export class PrintFigure implements Drawn {
  readonly object = new Group();
  readonly #main = new MeshBasicMaterial();
  readonly #lit = new MeshBasicMaterial();
  readonly #own: { dispose(): void }[] = [this.#main, this.#lit];
  #x = 0;
  #y = 0;
  #height = -1;
  #across = -1;
  #tilt = -1;
  #size = -1;
  #grow = -1;
  #glow = -1;
  #ink = -1;

  readonly #form: PrintForm;

  constructor(form: PrintForm, figure: Figure, places: Places) {
    this.#form = form;
    layersOf(form).forEach((layer, i) => {
      const geometry = sheet(layer.outlines, seedOf(`${form} ${i}`), layer.stray, layer.holes);
      const material =
        layer.ink === 'main'
          ? this.#main
          : layer.ink === 'lit'
            ? this.#lit
            : new MeshBasicMaterial({ color: INK[layer.ink] });
      if (material !== this.#main && material !== this.#lit) this.#own.push(material);
      this.#own.push(geometry);
      const mesh = new Mesh(geometry, material);
      mesh.renderOrder = i;
      this.object.add(mesh);
    });
    this.place(figure, places);
  }

  place({ at }: Figure, places: Places): void {
    this.#x = at.x;
    this.#y = at.y;
    this.#height = places.of('height');
    this.#across = places.of('across');
    this.#tilt = places.of('tilt');
    this.#size = places.of('size');
    this.#grow = places.of('grow');
    this.#glow = places.of('glow');
    this.#ink = places.of('ink');
  }

  update(v: Float32Array): void {
    const { object } = this;
    object.position.set(this.#x + v[this.#across]!, this.#y + v[this.#height]!, 0);
    object.rotation.z = v[this.#tilt]! * DEG;
    const size = v[this.#size]!;
    object.scale.set(size, size * v[this.#grow]!, 1);
    this.#main.color.setRGB(v[this.#ink]!, v[this.#ink + 1]!, v[this.#ink + 2]!);
    this.#lit.color.lerpColors(UNLIT, LIT, v[this.#glow]! / 100);
  }

  /** Along the edges of its main block, a step apart. */
  points(): Float32Array {
    const out: number[] = [],
      step = 13;
    for (const { ink, outlines } of layersOf(this.#form)) {
      if (ink !== 'main') continue;
      for (const o of outlines)
        o.forEach(([x, y], i) => {
          const [nx, ny] = o[(i + 1) % o.length]!,
            n = Math.max(1, Math.round(Math.hypot(nx - x, ny - y) / step));
          for (let k = 0; k < n; k++) out.push(x + ((nx - x) * k) / n, y + ((ny - y) * k) / n);
        });
    }
    return Float32Array.from(out);
  }

  dispose(): void {
    for (const x of this.#own) x.dispose();
  }
}

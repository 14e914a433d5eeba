import {
  BufferGeometry,
  Color,
  Group,
  InstancedMesh,
  Matrix4,
  MeshBasicMaterial,
  Quaternion,
  Vector3,
} from 'three';
import { seeded } from '../../../core/random';
import type { Figure } from '../../../core/show';
import { sheet } from '../cut';
import type { Point } from '../outline';
import type { Drawn } from './drawn';
import type { Places } from '../places';

const DEG = Math.PI / 180;
const AXIS = new Vector3(0, 0, 1);
const HEIGHT = 340;

/** Stars cut into the sky, four-pointed, each of its own size. */
export class StarsFigure implements Drawn {
  readonly object = new Group();
  readonly #count: number;
  readonly #stars: Float32Array; // x, y, size
  readonly #mesh: InstancedMesh<BufferGeometry, MeshBasicMaterial>;
  readonly #dim = new Color(0x2c4657);
  readonly #ink = new Color();
  readonly #matrix = new Matrix4();
  readonly #turn = new Quaternion();
  readonly #place = new Vector3();
  readonly #scale = new Vector3();
  #base = { x: 0, y: 0 };
  #at = { glow: -1, size: -1, turn: -1, ink: -1 };

  /** @param width - of what it is drawn on */
  constructor(count: number, figure: Figure, places: Places, width: number) {
    this.#count = count;
    const random = seeded(count + 900);
    this.#stars = new Float32Array(count * 3);
    for (let i = 0; i < count; i++) {
      // One to a column, so that they are strewn and never heaped.
      this.#stars[i * 3] = ((i + random()) / count) * width;
      this.#stars[i * 3 + 1] = 24 + random() * (HEIGHT - 40);
      this.#stars[i * 3 + 2] = 0.45 + random() ** 2 * 1.1;
    }
    const star = Array.from({ length: 8 }, (_, i): Point => {
      const r = i % 2 ? 2.6 : 11;
      const a = (i / 8) * 2 * Math.PI;
      return [r * Math.cos(a), r * Math.sin(a)];
    });
    this.#mesh = new InstancedMesh(sheet([star], 12, 0.4), new MeshBasicMaterial(), count);
    this.object.add(this.#mesh);
    this.place(figure, places);
  }
  place({ at }: Figure, places: Places): void {
    this.#base = at;
    this.#at = {
      glow: places.of('glow'),
      size: places.of('size'),
      turn: places.of('turn'),
      ink: places.of('ink'),
    };
  }
  update(v: Float32Array): void {
    this.#ink.setRGB(v[this.#at.ink]!, v[this.#at.ink + 1]!, v[this.#at.ink + 2]!);
    this.#mesh.material.color.lerpColors(this.#dim, this.#ink, v[this.#at.glow]! / 100);
    this.#turn.setFromAxisAngle(AXIS, v[this.#at.turn]! * DEG);
    const size = v[this.#at.size]!;
    for (let i = 0; i < this.#count; i++) {
      const s = size * this.#stars[i * 3 + 2]!;
      this.#mesh.setMatrixAt(
        i,
        this.#matrix.compose(
          this.#place.set(this.#base.x + this.#stars[i * 3]!, this.#base.y + this.#stars[i * 3 + 1]!, 0),
          this.#turn,
          this.#scale.set(s, s, 1),
        ),
      );
    }
    this.#mesh.instanceMatrix.needsUpdate = true;
  }
  dispose(): void {
    this.#mesh.geometry.dispose();
    this.#mesh.material.dispose();
    this.#mesh.dispose();
  }
}

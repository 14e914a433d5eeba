import {
  BufferGeometry,
  Color,
  Group,
  InstancedMesh,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  Quaternion,
  Vector3,
} from 'three';
import { seeded } from '../../../core/random';
import type { Figure } from '../../../core/show';
import { sheet } from '../cut';
import { box, disc, type Point } from '../outline';
import { INK, type Drawn } from './drawn';
import { type Places } from '../places';

const DEG = Math.PI / 180;
const DROP = 34;
const AXIS = new Vector3(0, 0, 1);

/** A row of lanterns on hooks: a dark paper disc that fills with light, and rays that come out with it. */
export class LanternsFigure implements Drawn {
  readonly object = new Group();
  readonly #count: number;
  readonly #x: Float32Array;
  readonly #sag: Float32Array;
  readonly #core: InstancedMesh<BufferGeometry, MeshBasicMaterial>;
  readonly #rays: InstancedMesh<BufferGeometry, MeshBasicMaterial>;
  readonly #hooks: InstancedMesh<BufferGeometry, MeshBasicMaterial>;
  readonly #unlit = new Color(0x4a3d22);
  readonly #ink = new Color();
  readonly #matrix = new Matrix4();
  readonly #turn = new Quaternion();
  readonly #place = new Vector3();
  readonly #scale = new Vector3();
  #base = { x: 0, y: 0 };
  #at = { glow: -1, size: -1, sway: -1, height: -1, across: -1, ink: -1 };

  constructor(count: number, width: number, figure: Figure, places: Places) {
    this.#count = count;
    const random = seeded(count * 17);
    this.#x = Float32Array.from({ length: count }, (_, i) =>
      count > 1 ? (i / (count - 1) - 0.5) * width : 0,
    );
    this.#sag = Float32Array.from({ length: count }, () => (random() - 0.5) * 5);
    const rays = Array.from({ length: 11 }, (_, i): Point[] => {
      const a = (i / 11) * 2 * Math.PI;
      return [
        [17 * Math.cos(a - 0.1), 17 * Math.sin(a - 0.1)],
        [29 * Math.cos(a), 29 * Math.sin(a)],
        [17 * Math.cos(a + 0.1), 17 * Math.sin(a + 0.1)],
      ];
    });
    const made = (outlines: Point[][], seed: number): InstancedMesh<BufferGeometry, MeshBasicMaterial> => {
      const mesh = new InstancedMesh<BufferGeometry, MeshBasicMaterial>(
        sheet(outlines, seed, 0.7),
        new MeshBasicMaterial(),
        count,
      );
      this.object.add(mesh);
      return mesh;
    };
    this.#hooks = made([box(-1.2, -DROP + 8, 2.4, DROP)], 3);
    this.#hooks.material.color.set(INK.black);
    this.#rays = made(rays, 4);
    this.#core = made([disc(0, 0, 13, 14)], 5);
    this.#rays.renderOrder = 1;
    this.#core.renderOrder = 2;
    this.place(figure, places);
  }
  place({ at }: Figure, places: Places): void {
    this.#base = at;
    this.#at = {
      glow: places.of('glow'),
      size: places.of('size'),
      sway: places.of('sway'),
      height: places.of('height'),
      across: places.of('across'),
      ink: places.of('ink'),
    };
  }
  update(v: Float32Array): void {
    const glow = v[this.#at.glow]! / 100,
      size = v[this.#at.size]!;
    const sway = v[this.#at.sway]! * DEG;
    const x0 = this.#base.x + v[this.#at.across]!,
      y0 = this.#base.y + v[this.#at.height]!;
    this.#ink.setRGB(v[this.#at.ink]!, v[this.#at.ink + 1]!, v[this.#at.ink + 2]!);
    this.#core.material.color.lerpColors(this.#unlit, this.#ink, glow);
    this.#rays.material.color.copy(this.#ink);
    for (let i = 0; i < this.#count; i++) {
      const swing = sway * (i % 2 ? 1 : -1);
      this.#turn.setFromAxisAngle(AXIS, swing);
      const hx = x0 + this.#x[i]!,
        hy = y0 + this.#sag[i]!;
      this.#put(this.#hooks, i, hx, hy, 1);
      const cx = hx + Math.sin(swing) * DROP,
        cy = hy - Math.cos(swing) * DROP;
      this.#put(this.#core, i, cx, cy, size);
      // Rays grow out of the disc: unlit they are hidden behind it.
      this.#put(this.#rays, i, cx, cy, size * (0.4 + 0.75 * glow));
    }
    this.#hooks.instanceMatrix.needsUpdate =
      this.#core.instanceMatrix.needsUpdate =
      this.#rays.instanceMatrix.needsUpdate =
        true;
  }
  #put(mesh: InstancedMesh, i: number, x: number, y: number, scale: number): void {
    mesh.setMatrixAt(
      i,
      this.#matrix.compose(this.#place.set(x, y, 0), this.#turn, this.#scale.set(scale, scale, 1)),
    );
  }
  dispose(): void {
    for (const m of [this.#core, this.#rays, this.#hooks]) {
      m.geometry.dispose();
      (m as Mesh<BufferGeometry, MeshBasicMaterial>).material.dispose();
      m.dispose();
    }
  }
}

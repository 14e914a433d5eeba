/** Runs in a page: the picture's own drawing against a bare scene of the same content in the same library. @see ./picture.ts */
import {
  Color,
  Group,
  Mesh,
  MeshBasicMaterial,
  OrthographicCamera,
  PlaneGeometry,
  Scene,
  ShaderMaterial,
  WebGLRenderer,
} from 'three';
import { bareStage } from '../../src/core/ferry/show';
import {
  figureParameters,
  PICTURE_HEIGHT,
  PICTURE_WIDTH,
  type FigureForm,
} from '../../src/core/figures/kinds';
import { groupParameters } from '../../src/core/finishes/groupsAndCamera';
import { finishParameters, newFinishForm } from '../../src/core/finishes/kinds';
import { toLinear } from '../../src/core/parameters/colour';
import { parameterSize, type ParameterDescription } from '../../src/core/parameters/description';
import { newFigure } from '../../src/core/show/pictureCommands';
import type { Figure, Finish } from '../../src/core/show/types';
import type { Stage } from '../../src/engine/picture/entries';
import { PictureMedia } from '../../src/engine/picture/media';
import { PictureScene } from '../../src/engine/picture/scene';
import { flat } from '../../src/engine/picture/shade';

export interface PictureBench {
  readonly ratio: number;
  readonly ratioComposed: number;
  readonly parameters: number;
  readonly bytes: number;
  readonly bareBytes: number;
  readonly copies: readonly number[];
  readonly particles: readonly number[];
  readonly finishes: readonly number[];
}
const gl = (r: WebGLRenderer): WebGL2RenderingContext => r.getContext() as WebGL2RenderingContext;
const pixel = new Uint8Array(4);
const median = (x: number[]): number => x.sort((a, b) => a - b)[x.length >> 1] ?? NaN;

function board(
  figures: readonly Figure[],
  finishes: readonly Finish[] = [],
  flashLimit: number | null = null,
  figureGroups: Stage['figureGroups'] = [],
): { scene: PictureScene; values: Float32Array; moving: Int32Array; sums: Int32Array } {
  const parameters: Record<string, number> = {},
    numbers: number[] = [],
    moving: number[] = [],
    sums: number[] = [];
  const add = (thing: string, list: readonly ParameterDescription[]): void => {
    for (const p of list) {
      const out = [0, 0, 0];
      parameters[`${thing}/${p.id}`] = numbers.length;
      if (typeof p.rest === 'string') toLinear(p.rest, out);
      else {
        out[0] = p.rest;
        moving.push(numbers.length);
      }
      numbers.push(...out.slice(0, parameterSize(p)));
      if (p.kind === 'number' && p.wrap) {
        parameters[`${thing}/${p.id}:sum`] = numbers.length;
        sums.push(numbers.length);
        numbers.push(0);
      }
    }
  };
  for (const f of figures) add(f.id, figureParameters(f.form.kind));
  for (const f of finishes) add(f.id, finishParameters(f.form.kind));
  for (const g of figureGroups) add(g.id, groupParameters());
  const scene = new PictureScene(
      new PictureMedia(
        () => undefined,
        () => undefined,
      ),
    ),
    stage: Stage = { ...bareStage(), figures, finishes, flashLimit, figureGroups };
  scene.set(stage, { parameters, vectors: {} });
  return {
    scene,
    values: Float32Array.from(numbers),
    moving: Int32Array.from(moving),
    sums: Int32Array.from(sums),
  };
}
const make = (n: number, form: FigureForm): Figure[] =>
  Array.from({ length: n }, (_, i) =>
    newFigure(`${form.kind}-${i}`, 'x', form, { x: (i * 37) % PICTURE_WIDTH, y: (i * 53) % PICTURE_HEIGHT }),
  );

/** The same meshes with the same materials, moved by hand-written lines from the same numbers. */
function bare(
  count: number,
  plates: number,
  values: Float32Array,
): { scene: Scene; camera: OrthographicCamera; update: () => void } {
  const scene = new Scene(),
    camera = new OrthographicCamera(
      -PICTURE_WIDTH / 2,
      PICTURE_WIDTH / 2,
      PICTURE_HEIGHT / 2,
      -PICTURE_HEIGHT / 2,
      -5000,
      5000,
    );
  camera.position.set(PICTURE_WIDTH / 2, PICTURE_HEIGHT / 2, 0);
  const prints: { group: Group; material: MeshBasicMaterial }[] = [],
    textures: { group: Group; u: Record<string, { value: unknown }> }[] = [];
  const { scene: ours } = board([
    ...make(1, { kind: 'print', form: 'block' }),
    ...make(1, { kind: 'texture', pattern: 'noise', whole: false }),
  ]);
  const [block, plate] = ours.entries.leaves.map((l) => l.drawn!.object.children[0] as Mesh);
  let order = 0;
  for (let i = 0; i < count; i++) {
    const group = new Group(),
      material = new MeshBasicMaterial({ transparent: true, depthTest: false, depthWrite: false });
    group.add(new Mesh(block!.geometry, material));
    group.renderOrder = ++order;
    scene.add(group);
    prints.push({ group, material });
  }
  for (let i = 0; i < plates; i++) {
    const from = plate!.material as ShaderMaterial,
      u = Object.fromEntries(
        Object.entries(from.uniforms).map(([k, x]) => [
          k,
          { value: x.value instanceof Color ? new Color() : x.value },
        ]),
      );
    const group = new Group(),
      mesh = new Mesh(new PlaneGeometry(480, 270), flat(u, from.vertexShader, from.fragmentShader));
    mesh.frustumCulled = false;
    group.add(mesh);
    group.renderOrder = ++order;
    scene.add(group);
    textures.push({ group, u });
  }
  const printSize = figureParameters('print').reduce((n, p) => n + parameterSize(p), 0),
    textureSize = figureParameters('texture').reduce(
      (n, p) => n + parameterSize(p) + (p.kind === 'number' && p.wrap ? 1 : 0),
      0,
    );
  const update = (): void => {
    let at = 0;
    for (let i = 0; i < prints.length; i++, at += printSize) {
      const { group, material } = prints[i]!,
        size = values[at + 3]!;
      group.position.set(
        ((i * 37) % PICTURE_WIDTH) + values[at + 1]!,
        ((i * 53) % PICTURE_HEIGHT) + values[at]!,
        0,
      );
      group.rotation.z = (values[at + 2]! * Math.PI) / 180;
      group.scale.set(size, size * values[at + 4]!, 1);
      material.color.setRGB(values[at + 6]!, values[at + 7]!, values[at + 8]!);
    }
    for (let i = 0; i < textures.length; i++, at += textureSize) {
      const { group, u } = textures[i]!,
        size = values[at + 2]!;
      group.position.set(
        ((i * 37) % PICTURE_WIDTH) + values[at + 1]!,
        ((i * 53) % PICTURE_HEIGHT) + values[at]!,
        0,
      );
      group.rotation.z = (values[at + 3]! * Math.PI) / 180;
      group.scale.set(size, size, 1);
      u.shown!.value = values[at + 4]! / 100;
      u.scale!.value = values[at + 5]!;
      u.drift!.value = values[at + 7]!;
      u.middle!.value = values[at + 8]! / 100;
      u.contrast!.value = values[at + 9]! / 100;
      u.inks!.value = values[at + 10]!;
      (u.first!.value as Color).setRGB(values[at + 11]!, values[at + 12]!, values[at + 13]!);
      (u.top!.value as Color).setRGB(values[at + 14]!, values[at + 15]!, values[at + 16]!);
    }
  };
  return { scene, camera, update };
}

function renderer(width: number, height: number): WebGLRenderer {
  const r = new WebGLRenderer({
    canvas: new OffscreenCanvas(width, height) as unknown as HTMLCanvasElement,
    antialias: true,
    alpha: false,
  });
  r.autoClear = false;
  r.setSize(width, height, false);
  return r;
}
/** Milliseconds of a frame, to its last pixel: the least of several medians, taken in turn with the others. */
function compare(
  runs: readonly ((frame: number) => void)[],
  r: readonly WebGLRenderer[],
  frames = 20,
  rounds = 5,
): number[] {
  const times = runs.map(() => [] as number[]);
  for (let round = 0; round < rounds; round++)
    runs.forEach((run, k) => {
      const all: number[] = [],
        g = gl(r[k]!);
      for (let f = 0; f < frames; f++) {
        const from = performance.now();
        run(f + round * frames);
        g.readPixels(0, 0, 1, 1, g.RGBA, g.UNSIGNED_BYTE, pixel);
        all.push(performance.now() - from);
      }
      if (round > 0) times[k]!.push(median(all));
    });
  return times.map((t) => Math.min(...t));
}

/** Our frame against a bare one; needs a browser that was started so that a page can empty its heap. */
function frames(): Pick<PictureBench, 'ratio' | 'ratioComposed' | 'parameters' | 'bytes' | 'bareBytes'> {
  const prints = 200,
    plates = 300,
    figures = [
      ...make(prints, { kind: 'print', form: 'block' }),
      ...make(plates, { kind: 'texture', pattern: 'noise', whole: false }),
    ];
  const straight = board(figures),
    composed = board(figures, [], 3),
    plain = bare(prints, plates, straight.values);
  const routed = figures.reduce((n, f) => n + figureParameters(f.form.kind).length, 0);
  const [a, b, c] = [renderer(16, 16), renderer(16, 16), renderer(16, 16)];
  const stir = (v: Float32Array, at: Int32Array, frame: number): void => {
    for (let i = 0; i < at.length; i++) v[at[i]!]! += ((frame + i) & 1 ? 1 : -1) * 0.01;
  };
  const drawOurs =
    (x: typeof straight, r: WebGLRenderer) =>
    (frame: number): void => {
      stir(x.values, x.moving, frame);
      x.scene.render(r, x.values, frame / 60, 0);
    };
  const drawBare = (frame: number): void => {
    stir(straight.values, straight.moving, frame);
    plain.update();
    c.setClearColor(0, 1);
    c.clear();
    c.render(plain.scene, plain.camera);
  };
  const [ours, limited, theirs] = compare(
    [drawOurs(straight, a), drawOurs(composed, b), drawBare],
    [a, b, c],
  ) as [number, number, number];
  // In short stretches, in turn: one in which the browser emptied its heap says nothing, and the median of the others is not one odd stretch.
  const used = (): number =>
    (performance as unknown as { memory: { usedJSHeapSize: number } }).memory.usedJSHeapSize;
  const stretches: [number[], number[]] = [[], []],
    collect = (globalThis as unknown as { gc: () => void }).gc;
  for (let k = 0; k < 24; k++)
    [drawOurs(straight, a), drawBare].forEach((draw, i) => {
      collect();
      draw(0);
      const before = used();
      for (let f = 0; f < 16; f++) draw(f);
      const more = used() - before;
      if (more >= 0) stretches[i]!.push(more / 16);
    });
  return {
    ratio: ours / theirs,
    ratioComposed: limited / theirs,
    parameters: routed,
    bytes: median(stretches[0]),
    bareBytes: median(stretches[1]),
  };
}

/** What more of a thing costs. */
function growth(): Pick<PictureBench, 'copies' | 'particles' | 'finishes'> {
  const big = renderer(640, 360);
  const cost = (x: ReturnType<typeof board>, warm = 30): number => {
    for (let f = 0; f < warm; f++) x.scene.render(big, x.values, f / 30, 0);
    return compare([(f) => x.scene.render(big, x.values, 1 + warm / 30 + f / 600, 0)], [big], 6, 4)[0]!;
  };
  const copies = [250, 500, 1000, 2000].map((count) =>
    cost(
      board(make(1, { kind: 'copies', shape: 'disc', count, along: 'grid', of: null, fromMiddle: false })),
    ),
  );
  const particles = [12500, 25000, 50000, 100000].map((most) => {
    const x = board([
        {
          ...newFigure(
            'e',
            'e',
            { kind: 'emitter', shape: 'drop', media: null, fileName: '', most },
            { x: 640, y: 360 },
          ),
        },
      ]),
      places = figureParameters('emitter');
    let at = 0;
    for (const p of places) {
      if (p.id === 'rate') x.values[at + 1] = 0;
      if (p.id === 'life') x.values[at] = 20;
      if (p.id === 'each') x.values[at] = 0.1;
      at += parameterSize(p) + (p.kind === 'number' && p.wrap ? 1 : 0);
    }
    // All of them are born at the second look, and live through the measuring.
    let rateSum = 0,
      k = 0;
    for (const p of places) {
      if (p.id === 'rate') rateSum = k + 1;
      k += parameterSize(p) + (p.kind === 'number' && p.wrap ? 1 : 0);
    }
    x.scene.render(big, x.values, 0, 0);
    x.values[rateSum] = most;
    return cost(x, 2);
  });
  // Of one kind, or the dearer ones among them would look as if more of them cost more than their share.
  const finishes = [1, 2, 4, 8].map((n) =>
    cost(
      board(
        [...make(20, { kind: 'print', form: 'moon' })],
        Array.from({ length: n }, () => 'grain' as const).map((kind, i): Finish => ({
          id: `f${i}`,
          name: kind,
          form: newFinishForm(kind),
          on: 'picture',
          off: false,
          rest: {},
        })),
        null,
      ),
    ),
  );
  return { copies, particles, finishes };
}
Object.assign(globalThis, { pictureFrames: frames, pictureGrowth: growth });

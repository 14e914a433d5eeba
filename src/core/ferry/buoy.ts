/** A river buoy as a glTF binary: the model of the example shows. Source of the form: Khronos glTF 2.0, sections 3 and 4.4 (GLB). */

interface Part {
  readonly profile: readonly (readonly [radius: number, height: number])[];
  readonly colour: readonly [number, number, number];
  readonly sides: number;
}

const PARTS: readonly Part[] = [
  {
    profile: [
      [0, 0],
      [0.9, 0.05],
      [1, 0.3],
      [0.85, 0.62],
      [0.5, 0.8],
    ],
    colour: [0.81, 0.1, 0.023],
    sides: 14,
  },
  {
    profile: [
      [0.5, 0.8],
      [0.26, 2],
    ],
    colour: [0.89, 0.81, 0.66],
    sides: 8,
  },
  {
    profile: [
      [0.26, 2],
      [0.44, 2.04],
      [0.44, 2.5],
      [0.18, 2.78],
      [0, 2.84],
    ],
    colour: [0.87, 0.46, 0.045],
    sides: 8,
  },
];

export function buoyModel(): Uint8Array<ArrayBuffer> {
  const chunks: Uint8Array[] = [],
    views: object[] = [],
    accessors: object[] = [],
    primitives: object[] = [],
    materials: object[] = [];
  let offset = 0;
  const put = (data: Float32Array | Uint16Array, target: number): number => {
    const bytes = new Uint8Array(data.buffer),
      padded = new Uint8Array(Math.ceil(bytes.length / 4) * 4);
    padded.set(bytes);
    chunks.push(padded);
    views.push({ buffer: 0, byteOffset: offset, byteLength: bytes.length, target });
    offset += padded.length;
    return views.length - 1;
  };
  for (const { profile, colour, sides } of PARTS) {
    const position: number[] = [],
      index: number[] = [];
    for (const [r, y] of profile)
      for (let s = 0; s < sides; s++) {
        const a = (s / sides) * 2 * Math.PI;
        position.push(r * Math.cos(a), y, r * Math.sin(a));
      }
    for (let p = 0; p < profile.length - 1; p++)
      for (let s = 0; s < sides; s++) {
        const a = p * sides + s,
          b = p * sides + ((s + 1) % sides);
        index.push(a, a + sides, b, b, a + sides, b + sides);
      }
    const at = (axis: number): number[] => position.filter((_, i) => i % 3 === axis);
    accessors.push({
      bufferView: put(Float32Array.from(position), 34962),
      componentType: 5126,
      count: position.length / 3,
      type: 'VEC3',
      min: [0, 1, 2].map((k) => Math.fround(Math.min(...at(k)))),
      max: [0, 1, 2].map((k) => Math.fround(Math.max(...at(k)))),
    });
    accessors.push({
      bufferView: put(Uint16Array.from(index), 34963),
      componentType: 5123,
      count: index.length,
      type: 'SCALAR',
    });
    materials.push({ pbrMetallicRoughness: { baseColorFactor: [...colour, 1] } });
    primitives.push({
      attributes: { POSITION: accessors.length - 2 },
      indices: accessors.length - 1,
      material: materials.length - 1,
    });
  }
  const text = JSON.stringify({
    asset: { version: '2.0', generator: 'Batucada' },
    scene: 0,
    scenes: [{ nodes: [0] }],
    nodes: [{ mesh: 0, name: 'buoy' }],
    meshes: [{ primitives }],
    materials,
    accessors,
    bufferViews: views,
    buffers: [{ byteLength: offset }],
  });
  const json = new TextEncoder().encode(text.padEnd(Math.ceil(text.length / 4) * 4, ' '));
  const out = new Uint8Array(12 + 8 + json.length + 8 + offset),
    view = new DataView(out.buffer);
  [0x46546c67, 2, out.length, json.length, 0x4e4f534a].forEach((x, i) => view.setUint32(i * 4, x, true));
  out.set(json, 20);
  view.setUint32(20 + json.length, offset, true);
  view.setUint32(24 + json.length, 0x004e4942, true);
  let at = 28 + json.length;
  for (const c of chunks) {
    out.set(c, at);
    at += c.length;
  }
  return out;
}

export type PackArray = Float32Array | Uint8Array | Uint16Array | Uint32Array | Int16Array | Int32Array;

/** Named arrays and a little JSON, as the server sends them (core/cenote/formats/pack.py). */
export interface Pack<Meta = unknown> {
  arrays: Record<string, { data: PackArray; shape: number[] }>;
  meta: Meta;
}

const KINDS = {
  float32: Float32Array,
  uint8: Uint8Array,
  uint16: Uint16Array,
  uint32: Uint32Array,
  int16: Int16Array,
  int32: Int32Array,
} as const;

/** Read a pack without copying its arrays. */
export function readPack<Meta = unknown>(content: ArrayBuffer): Pack<Meta> {
  const view = new DataView(content);
  if (content.byteLength < 8 || view.getUint32(0, false) !== 0x434e5431) throw new Error("not a pack");
  const start = 8 + view.getUint32(4, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(content, 8, start - 8))) as {
    meta: Meta;
    arrays: { name: string; dtype: keyof typeof KINDS; shape: number[]; offset: number }[];
  };
  const arrays: Pack["arrays"] = {};
  for (const { name, dtype, shape, offset } of head.arrays) {
    const count = shape.reduce((a, b) => a * b, 1);
    arrays[name] = { data: new KINDS[dtype](content, start + offset, count), shape };
  }
  return { arrays, meta: head.meta };
}

/** The arrays of a pack under a prefix, as a pack of their own. */
export function partOf(pack: Pack, prefix: string): Pack {
  const inside = Object.entries(pack.arrays).filter(([name]) => name.startsWith(prefix));
  return { arrays: Object.fromEntries(inside.map(([name, array]) => [name.slice(prefix.length), array])), meta: {} };
}

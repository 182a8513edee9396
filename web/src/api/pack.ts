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

/** Milliseconds that a picture is read for before the page has a turn, and rows after which that is looked at. */
const SLICE = 10;
const ROWS = 64;

/** A picture from its channels, which are written one after another as differences along their rows. */
async function pictureOf(written: Uint8Array, [height, width, channels]: number[]): Promise<Uint8Array> {
  const out = new Uint8Array(written.length);
  let at = 0;
  let until = performance.now() + SLICE;
  for (let channel = 0; channel < channels; channel++)
    for (let row = 0; row < height; row++) {
      const beyond = (row + 1) * width * channels;
      for (let to = row * width * channels + channel, value = 0; to < beyond; to += channels)
        out[to] = value = value + written[at++];
      if (row % ROWS === 0 && performance.now() > until) {
        await new Promise((go) => setTimeout(go));
        until = performance.now() + SLICE;
      }
    }
  return out;
}

/** Read a pack; what is no picture is not copied. */
export async function readPack<Meta = unknown>(content: ArrayBuffer): Promise<Pack<Meta>> {
  const view = new DataView(content);
  if (content.byteLength < 8 || view.getUint32(0, false) !== 0x434e5431) throw new Error("not a pack");
  const start = 8 + view.getUint32(4, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(content, 8, start - 8))) as {
    meta: Meta;
    arrays: { name: string; dtype: keyof typeof KINDS; shape: number[]; offset: number; differences?: boolean }[];
  };
  const arrays: Pack["arrays"] = {};
  for (const { name, dtype, shape, offset, differences } of head.arrays) {
    const count = shape.reduce((a, b) => a * b, 1);
    const data = new KINDS[dtype](content, start + offset, count);
    arrays[name] = { data: differences ? await pictureOf(data as Uint8Array, shape) : data, shape };
  }
  return { arrays, meta: head.meta };
}

/** The arrays of a pack under a prefix, as a pack of their own. */
export function partOf(pack: Pack, prefix: string): Pack {
  const inside = Object.entries(pack.arrays).filter(([name]) => name.startsWith(prefix));
  return { arrays: Object.fromEntries(inside.map(([name, array]) => [name.slice(prefix.length), array])), meta: {} };
}

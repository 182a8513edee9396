import { describe, expect, it } from "vitest";
import { partOf, readPack } from "./pack";

/** A pack as core/cenote/formats/pack.py writes it. */
function written(head: object, parts: Uint8Array): ArrayBuffer {
  let text = JSON.stringify(head);
  text += " ".repeat((8 - (text.length % 8)) % 8);
  const out = new Uint8Array(8 + text.length + parts.length);
  out.set(new TextEncoder().encode("CNT1"));
  new DataView(out.buffer).setUint32(4, text.length, true);
  out.set(new TextEncoder().encode(text), 8);
  out.set(parts, 8 + text.length);
  return out.buffer;
}

describe("packs", () => {
  it("gives arrays by name in their own types, without copying", async () => {
    const floats = new Float32Array([1.5, -2, 3, 4]);
    const content = written(
      {
        meta: { count: 2 },
        arrays: [
          { name: "place", dtype: "float32", shape: [2, 2], offset: 0 },
          { name: "kind", dtype: "uint8", shape: [3], offset: 16 },
        ],
      },
      new Uint8Array([...new Uint8Array(floats.buffer), 7, 8, 9, 0, 0, 0, 0, 0]),
    );
    const { arrays, meta } = await readPack<{ count: number }>(content);
    expect(meta.count).toBe(2);
    expect(arrays.place.data).toEqual(floats);
    expect(arrays.place.shape).toEqual([2, 2]);
    expect(Array.from(arrays.kind.data)).toEqual([7, 8, 9]);
    expect(arrays.kind.data.buffer).toBe(content);
  });

  it("is taken apart by prefix, without copying", () => {
    const data = new Float32Array([1, 2]);
    const whole = {
      arrays: { "a/x": { data, shape: [2] }, "a/y": { data, shape: [2] }, "ab/x": { data, shape: [2] } },
      meta: { n: 1 },
    };
    const part = partOf(whole, "a/");
    expect(Object.keys(part.arrays)).toEqual(["x", "y"]);
    expect(part.arrays.x.data).toBe(data);
    expect(partOf(whole, "c/").arrays).toEqual({});
  });

  it("adds up the differences that pictures are written as, channel by channel", async () => {
    const head = { meta: {}, arrays: [{ name: "p", dtype: "uint8", shape: [2, 3, 2], offset: 0, differences: true }] };
    // Rows 10 12 11 and 1 255 0 of one channel; rows of 7 and of 9 of the other.
    const { arrays } = await readPack(written(head, new Uint8Array([10, 2, 255, 1, 254, 1, 7, 0, 0, 9, 0, 0])));
    expect(Array.from(arrays.p.data)).toEqual([10, 7, 12, 7, 11, 7, 1, 9, 255, 9, 0, 9]);
  });

  it("refuses what is no pack", async () => {
    await expect(readPack(new ArrayBuffer(4))).rejects.toThrow("not a pack");
    const text = new TextEncoder().encode('{"a": 1}').buffer as ArrayBuffer;
    await expect(readPack(text)).rejects.toThrow("not a pack");
  });
});

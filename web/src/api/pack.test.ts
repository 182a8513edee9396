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
  it("gives arrays by name in their own types, without copying", () => {
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
    const { arrays, meta } = readPack<{ count: number }>(content);
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

  it("refuses what is no pack", () => {
    expect(() => readPack(new ArrayBuffer(4))).toThrow("not a pack");
    expect(() => readPack(new TextEncoder().encode('{"a": 1}').buffer as ArrayBuffer)).toThrow("not a pack");
  });
});

import type { Pack, PackArray } from "./pack";

/** The columns that tell the parts of a table, as the server writes them (server/derived/packs/parts.py). */
const FIRST = "first";
const MARK = "mark";
const FROM = "from";

/**
 * A whole table out of what was sent of it: the parts that differ from an earlier table, and the earlier table itself.
 * What was sent whole is given back as it is.
 */
export function wholeTable<Meta>(sent: Pack<Meta>, earlier: Pack<unknown> | null): Pack<Meta> {
  if (!sent.arrays[FROM]) return sent;
  if (!earlier) throw new Error("parts came of a table that is not there");
  const from = sent.arrays[FROM].data;
  const first = sent.arrays[FIRST].data;
  const had = earlier.arrays[FIRST].data;
  const rows = first[first.length - 1];
  const arrays: Pack["arrays"] = { [FIRST]: sent.arrays[FIRST], [MARK]: sent.arrays[MARK] };
  for (const [name, column] of Object.entries(sent.arrays)) {
    if (name === FIRST || name === MARK || name === FROM) continue;
    const width = column.shape.slice(1).reduce((a, b) => a * b, 1);
    const old = earlier.arrays[name].data;
    const data = new (column.data.constructor as new (length: number) => PackArray)(rows * width);
    let next = 0;
    for (let part = 0; part < from.length; part++) {
      const start = first[part] * width;
      const length = first[part + 1] * width - start;
      if (from[part] < 0) {
        data.set(column.data.subarray(next, next + length), start);
        next += length;
      } else {
        const there = had[from[part]] * width;
        data.set(old.subarray(there, there + length), start);
      }
    }
    arrays[name] = { data, shape: [rows, ...column.shape.slice(1)] };
  }
  return { arrays, meta: sent.meta };
}

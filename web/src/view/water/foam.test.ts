import { describe, expect, it } from "vitest";
import type { Pack } from "../../api/pack";
import { type FoamMeta, layFoam, noFoam } from "./foam";

const pack = (rows: number, columns: number): Pack<FoamMeta> => ({
  arrays: { cover: { data: new Uint8Array(rows * columns).fill(200), shape: [rows, columns] } },
  meta: { low: [-3, 5], cell: 0.5, colour: [0.6, 0.6, 0.5] },
});

describe("foam on water", () => {
  it("lies where its map says, and is taken off again", () => {
    const foam = noFoam();
    const off = layFoam(foam, pack(2, 6), 0.4);
    expect(foam.foams.value).toBe(0.4);
    expect(foam.foamLow.value.toArray()).toEqual([-3, 5]);
    expect(foam.foamSize.value.toArray()).toEqual([3, 1]);
    expect(foam.foam.value?.image).toMatchObject({ width: 6, height: 2 });
    off();
    expect([foam.foams.value, foam.foam.value]).toEqual([0, null]);
  });

  it("is nothing where nothing stands in the water, or none is wanted", () => {
    const foam = noFoam();
    layFoam(foam, pack(0, 0), 1);
    layFoam(foam, pack(2, 2), 0);
    expect([foam.foams.value, foam.foam.value]).toEqual([0, null]);
  });
});

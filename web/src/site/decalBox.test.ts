import * as THREE from "three";
import { describe, expect, it } from "vitest";
import type { PlacedDecal, SceneManifest, Structure } from "../api/client";
import { defaultsOfGroup } from "../api/declared";
import { applyOperations } from "./patch";
import { documentWith, made } from "../testing/onSite";
import {
  boxMatrix,
  cornerAt,
  decalAt,
  extentOf,
  filling,
  frameOf,
  type Lie,
  lieOf,
  onPlane,
  onSurface,
  sized,
  surfacesNear,
  takenOutOf,
} from "./decalBox";

const v = (x: number, y: number, z: number) => new THREE.Vector3(x, y, z);
const axis = (matrix: THREE.Matrix4, column: number) =>
  new THREE.Vector3().setFromMatrixColumn(matrix, column).toArray().map((value) => Number(value.toFixed(4)) + 0); // prettier-ignore
const decal = (values: object = {}) => made<PlacedDecal>("PlacedDecal", { id: "d", ...values });
const AHEAD = v(0, -0.5, -1);

describe("a decal's box", () => {
  it("lies upright on walls, and away from whoever looks on level ground", () => {
    const wall = onSurface(v(1, 2, 3), v(0, 0, 1), AHEAD);
    expect([axis(wall, 0), axis(wall, 1), axis(wall, 2)]).toEqual([
      [1, 0, 0],
      [0, 0, 1],
      [0, -1, 0],
    ]);
    const ground = onSurface(v(0, 0, 0), v(0, 1, 0), v(1, -1, 0));
    expect([axis(ground, 0), axis(ground, 1), axis(ground, 2)]).toEqual([
      [0, 0, 1],
      [0, 1, 0],
      [-1, 0, 0],
    ]);
    for (const normal of [v(0.3, 0.9, -0.3), v(0, -1, 0), v(1, 0, 0), v(-0.2, 0.1, -1)]) {
      const box = onSurface(v(0, 0, 0), normal, AHEAD);
      expect(box.determinant()).toBeCloseTo(1, 5);
      expect(new THREE.Vector3().setFromMatrixColumn(box, 1).dot(normal.normalize())).toBeCloseTo(1, 5);
    }
    // What was to be up points out of the surface.
    expect(onSurface(v(0, 0, 0), v(0, 1, 0), AHEAD, v(0, 1, 0)).determinant()).toBeCloseTo(1, 5);
  });

  it("is told by turn, tip and spin, in the world and in an object's frame of any size", () => {
    const frames = [null, { position: [4, 1, -2], turn: 50, tip: 10, roll: -20, size: 2.5 }] as unknown as (
      Structure["placement"] | null
    )[];
    for (const frame of frames)
      for (const normal of [v(0, 0, 1), v(0, 1, 0), v(0, -1, 0), v(0.4, 0.5, -0.6), v(-1, 0, 0)])
        for (const spin of [0, 35, -120]) {
          const box = onSurface(v(1, 0.5, 2), normal, AHEAD).multiply(
            new THREE.Matrix4().makeRotationY((spin * Math.PI) / 180),
          );
          const again = boxMatrix({ ...decal(), ...lieOf(box, frame) }, frame);
          again.elements.forEach((value, k) => expect(value).toBeCloseTo(box.elements[k], 3));
        }
    expect(lieOf(onSurface(v(0, 1, 0), v(0, 0, 1), AHEAD), null)).toMatchObject({
      placement: { turn: 0, tip: 90 },
      spin: 0,
    });
  });

  it("is as large in the world as its object makes it", () => {
    const frame = { position: [0, 0, 0], turn: 0, tip: 0, roll: 0, size: 2 } as unknown as Structure["placement"];
    expect(extentOf({ ...decal(), width: 1, height: 0.5, reach: 0.2 }, frame).toArray()).toEqual([2, 0.4, 1]);
    expect(frameOf([{ id: "a", placement: frame } as Structure], "a")).toBe(frame);
    expect(frameOf([], "gone")).toBeNull();
  });

  it("is sized by its corner, its proportions kept and within what can be", () => {
    const { width, height } = cornerAt({ width: 2, height: 1 }, [2, -1]);
    expect([width, height]).toEqual([4, 2]);
    expect(cornerAt({ width: 2, height: 1 }, [2, 1], 2).width).toBe(2);
    expect(sized(0)).toBe(0.005);
    expect(sized(1e6)).toBe(200);
  });

  it("is met by the pointer on its plane", () => {
    const box = onSurface(v(0, 1, 0), v(0, 0, 1), AHEAD);
    expect(onPlane(new THREE.Ray(v(0.3, 1.2, 5), v(0, 0, -1)), box)!.map((value) => Number(value.toFixed(6)))).toEqual([
      0.3, -0.2,
    ]);
    expect(onPlane(new THREE.Ray(v(0, 1, 5), v(1, 0, 0)), box)).toBeNull();
  });

  it("comes near the surfaces that it may lie on", () => {
    const at = (x: number) => [1, 0, 0, x, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
    const surface = (id: string, x: number) => ({ id, low: [-0.5, 0, -0.5], high: [0.5, 1, 0.5], matrix: at(x) });
    const scene = {
      surfaces: [surface("ground", 0), surface("crate", 0.8), surface("far", 9)],
    } as unknown as SceneManifest;
    const near = (values: object) => surfacesNear(decal({ width: 1, height: 1, reach: 1, ...values }), [], scene);
    expect(near({})).toEqual(["ground", "crate"]);
    expect(near({ skips: ["crate"] })).toEqual(["ground"]);
    expect(near({ only_object: true })).toEqual(["ground"]);
  });

  it("of a rule is taken out of it, and goes on as one of its own where it is", () => {
    const spread = { ...defaultsOfGroup("Spread"), on: true, surfaces: ["wall"], removed: [] };
    const document = documentWith({
      decals: [decal({ name: "Leaks", object: "wall", spread }), decal({ id: "above" })],
    });
    const matrix = onSurface(v(1, 2, 3), v(0, 0, 1), AHEAD)
      .transpose()
      .toArray();
    const one = { id: "00ff00ff00ff00ff", matrix, width: 0.5, height: 1, reach: 0.3, seed: 77 };
    const { operations, own } = takenOutOf(document, 0, one, true);
    const [rule, kept, above] = applyOperations(document, operations).decals;
    expect(rule.spread.removed).toEqual([one.id]);
    expect(kept).toMatchObject({ id: own, object: "", width: 0.5, seed: 77, spread: { on: false, removed: [] } });
    expect(kept.placement).toMatchObject({ position: [1, 2, 3], turn: 0, tip: 90 });
    expect(above.id).toBe("above");
    expect(takenOutOf(document, 0, one, false)).toMatchObject({ own: null, operations: [{ op: "add" }] });
  });

  it("is picked at a place by what lies uppermost there and can be picked", () => {
    const at = (id: string, x: number, values: object = {}) =>
      decal({ id, width: 1, height: 1, reach: 0.2, placement: { position: [x, 0, 0], turn: 0, tip: 0, roll: 0 }, ...values }); // prettier-ignore
    const document = documentWith({
      decals: [at("over", 0, { lies: "over the weather" }), at("low", 0), at("next", 0.6)],
    });
    const found = (x: number, values: object = {}, surface = "ground") =>
      decalAt({ ...document, decals: document.decals.map((one) => ({ ...one, ...values })) }, v(x, 0.05, 0), surface)
        ?.id;
    expect([found(0), found(0.55), found(1), found(2)]).toEqual(["over", "next", "next", undefined]);
    expect(decalAt(document, v(0, 0.3, 0), "ground")).toBeNull();
    for (const values of [{ locked: true }, { shown: false }, { skips: ["ground"] }, { object: "gone" }])
      expect(found(0, values)).toBeUndefined();
    expect([found(0, { only_object: true }), found(0, { only_object: true }, "wall")]).toEqual(["over", undefined]);
  });

  it("fills its surface, seen along its own axis", () => {
    const lie: Lie = { ...decal(), ...lieOf(onSurface(v(0.2, 0.4, 0.5), v(0, 0, 1), AHEAD), null) };
    const filled = filling(lie, null, [-2, 0, -0.5], [2, 3, 0.5], new THREE.Matrix4());
    expect([filled.width, filled.height]).toEqual([4, 3]);
    expect(filled.placement.position).toEqual([0, 1.5, 0.5]);
  });
});

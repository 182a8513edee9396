import { describe, expect, it } from "vitest";
import * as THREE from "three";
import type { SiteDocument, Structure } from "../api/client";
import { freshStructure, grouped } from "../site/layers";
import { applyOperations } from "../site/patch";
import { pickedObjects, useView } from "../site/store";
import { duplicates, freedPieces, freshGroup, removals, seatOperation, setAll, setDown } from "./actions";
import type { Point } from "../site/poses";
import { heightBelow, surfacesOf } from "../view/reach";
import { traceOperations } from "./tracing";

function site(...names: string[]): SiteDocument {
  const document = {
    structures: [],
    weather: [],
    droplets: [],
    grass: [],
    ground: { levelled: [] },
  } as unknown as SiteDocument;
  names.forEach((name, row) => {
    const source = { kind: "kit_piece" as const, item: "crate", variant: 0 };
    document.structures.push({ ...freshStructure(document, name, source, [row, 0.2, 0]), id: name.toLowerCase() });
  });
  document.weather.push({ id: "moss", surfaces: ["ground", "a"] } as never);
  document.droplets.push({ id: "rain", surfaces: ["a"] } as never);
  document.grass.push({ id: "turf", surfaces: ["a"] } as never);
  return document;
}

describe("several objects", () => {
  it("are copied with the recipes that they share", () => {
    const before = site("A", "B");
    const { operations, ids } = duplicates(before, ["a", "b"]);
    const after = applyOperations(before, operations);
    expect(after.structures.map((one) => one.name)).toEqual(["A", "B", "A 2", "B 2"]);
    expect(new Set(after.structures.map((one) => one.id)).size).toBe(4);
    expect(after.weather[0].surfaces).toEqual(["ground", "a", ids[0]]);
    expect(after.droplets[0].surfaces).toEqual(["a", ids[0]]);
    expect(after.grass[0].surfaces).toEqual(["a", ids[0]]);
  });

  it("are taken out together, and out of what refers to them", () => {
    const before = site("A", "B", "C");
    const after = applyOperations(before, removals(before, ["a", "c"]));
    expect(after.structures.map((one) => one.id)).toEqual(["b"]);
    expect(after.weather[0].surfaces).toEqual(["ground"]);
    expect(after.droplets[0].surfaces).toEqual([]);
  });

  it("are grouped, and listed where the first of them stands", () => {
    const before = site("A", "B", "C");
    expect(freshGroup(before)).toBe("Group");
    const after = applyOperations(before, setAll(before, ["a", "c"], "group", "Yard"));
    expect(grouped(after.structures).map(({ group, members }) => [group, members.map((one) => one.id)])).toEqual([
      ["Yard", ["a", "c"]],
      ["", ["b"]],
    ]);
  });

  it("are picked one after another, and let go again", () => {
    const { pick } = useView.getState();
    const now = () => pickedObjects(useView.getState());
    pick({ part: "structures", id: "a" });
    pick({ part: "structures", id: "b" }, true);
    expect(now()).toEqual(["a", "b"]);
    pick({ part: "structures", id: "a" }, true);
    expect(now()).toEqual(["b"]);
    pick({ part: "structures", id: "b" }, true);
    expect(now()).toEqual([]);
    pick({ part: "structures", id: "a" });
    pick({ part: "ground" }, true);
    expect(now()).toEqual([]);
  });
});

describe("what is under an object", () => {
  it("is what it is set down on; itself is not", () => {
    const scene = new THREE.Scene();
    const add = (id: string, y: number) => {
      const mesh = new THREE.Mesh(new THREE.BoxGeometry(10, 0.2, 10));
      mesh.position.y = y;
      mesh.userData.surface = id;
      mesh.updateMatrixWorld();
      scene.add(mesh);
    };
    add("ground", -0.1);
    add("a", 0.3);
    const before = site("A", "B");
    const after = applyOperations(before, setDown(scene, before, ["a"]));
    expect(after.structures[0].placement.position).toEqual([0, 0, 0]);
    expect(after.structures[1].placement.position).toEqual([1, 0.2, 0]);
    expect(heightBelow(surfacesOf(scene, new Set()), [0, 0.2, 0])).toBeCloseTo(0.4);
    expect(surfacesOf(scene, new Set(), true).map((one) => one.userData.surface as string)).toEqual(["ground"]);
  });

  it("is levelled to seat it, turned as it is", () => {
    const one = { placement: { position: [4, 1, 2], turn: 90, tip: 0, roll: 0, size: 1 } } as unknown as Structure;
    const { path, value } = seatOperation(one, { low: [0, 0, -1], high: [2, 3, 1] });
    expect(path).toBe("/ground/levelled/-");
    expect(value).toMatchObject({ centre: [4, 1], size: [2.1, 2.1], turn: 90, level: 1 });
  });
});

describe("a heap", () => {
  it("is taken apart into single objects of a group", () => {
    const before = site("A");
    const piece = { item: "plank", variant: 1, position: [1, 0, 0] as Point, turn: 5, tip: 0, roll: 0 };
    const heap = { ...before.structures[0], source: { kind: "heap", drop: {}, pieces: [piece, piece] } };
    before.structures[0] = heap as unknown as Structure;
    const after = applyOperations(before, freedPieces(before, before.structures[0]));
    expect(after.structures.map(({ name, group }) => [name, group])).toEqual([
      ["Plank", "A"],
      ["Plank 2", "A"],
    ]);
    expect(after.structures[0].placement).toMatchObject({ position: [1, 0.2, 0], turn: 5 });
    expect(after.weather[0].surfaces).toEqual(["ground", ...after.structures.map((one) => one.id)]);
  });
});

describe("what is drawn", () => {
  const tracing = { path: "/structures/0/source/maker", name: "outline", sets: {}, label: "", frame: null };

  it("becomes points along x and z, and sets what goes with it", () => {
    const points: Point[] = [
      [0, 5, 0],
      [2, 6, 0],
      [2, 7, 3],
    ];
    const operations = traceOperations({ ...tracing, draws: "outline", sets: { footprint: "drawn" }, points });
    expect(operations).toEqual([
      {
        op: "replace",
        path: "/structures/0/source/maker/outline",
        value: [
          [0, 0],
          [2, 0],
          [2, 3],
        ],
      },
      { op: "replace", path: "/structures/0/source/maker/footprint", value: "drawn" },
    ]);
  });

  it("is a whole place where one is picked", () => {
    const frame = { position: [1, 1, 1] as Point, turn: 0, tip: 0, roll: 0, size: 1 };
    const aims = { position: [0, 3, 4], turn: 0, tip: 0, roll: 0 } as never;
    const [aimed] = traceOperations({ ...tracing, name: "placement", draws: "place", aims, points: [[2, 3, 4]] });
    expect(aimed).toMatchObject({ op: "replace", value: { position: [0, 3, 4], turn: 90, tip: -90 } });
    const [operation] = traceOperations({ ...tracing, name: "end", draws: "place", frame, points: [[2, 3, 4]] });
    expect(operation.value).toEqual([1, 2, 3]);
  });
});

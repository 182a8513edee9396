import * as THREE from "three";
import { afterEach, describe, expect, it } from "vitest";
import { applyBudget, chunked, chunking, detailFor, dress, layersThere, registerChunks } from "./chunks";
import type { ItemLook, ItemShape } from "./items";
import type { Placements } from "../site/placements";

/** Copies of one kind along x, a metre apart, from −20 m on. */
function row(count: number, whole = 500): Placements {
  const of = (width: number, value: (i: number, k: number) => number) =>
    Float32Array.from({ length: count * width }, (_, at) => value(Math.floor(at / width), at % width));
  return {
    item: new Int16Array(count),
    variant: new Int16Array(count),
    position: of(3, (i, k) => (k === 0 ? i - 20 : 0)),
    rotation: of(4, (_, k) => (k === 3 ? 1 : 0)),
    size: of(1, () => 2),
    tint: of(3, (_, k) => 0.25 * (k + 1)),
    id: new Uint32Array(0),
    origin: new Uint8Array(0),
    rank: Uint16Array.from({ length: count }, (_, i) => (i * 7919) % 65536),
    meta: { items: ["stone"], count: whole, triangles: count * 12, densest: null },
  };
}

const box = new THREE.BoxGeometry(0.2, 0.2, 0.2);
const far = new THREE.TetrahedronGeometry(0.2).toNonIndexed();
far.setIndex([...Array(12).keys()]);
const shapes = new Map<string, ItemShape>([["stone", { geometries: [[box, far]], extent: 0.35 }]]);
const look = (): Map<string, ItemLook> =>
  new Map([["stone", { materials: [new THREE.MeshBasicMaterial()], bare: false }]]);

/** A camera at x that looks along +x. */
function camera(x: number): THREE.PerspectiveCamera {
  const made = new THREE.PerspectiveCamera(60, 2, 0.1, 500);
  made.position.set(x, 1, 0);
  made.lookAt(x + 1, 1, 0);
  made.updateMatrixWorld();
  return made;
}

const scene = new THREE.Scene();
const forget: (() => void)[] = [];
afterEach(() => forget.splice(0).forEach((one) => one()));

/** Chunks of a row, put under the budget until the test ends. */
function shown(count: number, whole = 500) {
  const chunks = chunked(row(count, whole), shapes);
  dress(chunks, look(), null);
  forget.push(registerChunks(scene, "row", chunks));
  return chunks;
}

/** The mesh that a chunk is drawn by. */
const seen = (chunk: ReturnType<typeof chunked>[number]) => chunk.meshes.find((mesh) => mesh?.visible)!;

describe("chunks", () => {
  it("hold every copy once, near each other, in the order of their rank", () => {
    const chunks = shown(100);
    expect(chunks.length).toBeGreaterThan(5);
    expect(chunks.reduce((sum, chunk) => sum + chunk.count, 0)).toBe(100);
    const matrix = new THREE.Matrix4();
    for (const { matrices, count } of chunks) {
      const xs: number[] = [];
      for (let i = 0; i < count; i++) {
        matrix.fromArray(matrices.array, i * 16);
        xs.push(new THREE.Vector3().setFromMatrixPosition(matrix).x);
      }
      expect(Math.max(...xs) - Math.min(...xs)).toBeLessThanOrEqual(14);
      const ranks = xs.map((x) => ((Math.round(x) + 20) * 7919) % 65536);
      expect(ranks).toEqual([...ranks].sort((a, b) => a - b));
    }
  });

  it("carry size and tint", () => {
    const [chunk] = shown(1);
    const matrix = new THREE.Matrix4();
    matrix.fromArray(chunk.matrices.array, 0);
    expect(matrix.getMaxScaleOnAxis()).toBeCloseTo(2);
    expect([...chunk.colours.array]).toEqual([0.25, 0.5, 0.75].map((v) => expect.closeTo(v, 4) as number));
  });

  it("take more copies together on a large site", () => {
    const spread = row(400);
    spread.position.forEach((_, at) => at % 3 === 0 && (spread.position[at] *= 4));
    const [near, far] = [row(400), spread].map((one) => chunked(one, shapes).length);
    expect(far).toBeLessThan(near * 1.3);
  });

  it("leave out kinds whose mesh is not there", () => {
    expect(chunked(row(5), new Map())).toEqual([]);
  });
});

describe("building chunks", () => {
  it("gives way every so many copies", () => {
    const work = chunking(row(20_000), shapes);
    let turns = 0;
    while (!work.next().done) turns += 1;
    expect(turns).toBeGreaterThan(14);
  });

  it("is not done again for other looks, nor for what comes to lie on the copies", () => {
    const chunks = shown(100);
    applyBudget(scene, camera(-60), 1e9);
    const before = chunks.map((chunk) => ({ mesh: seen(chunk), matrices: chunk.matrices }));
    const [bare, snowed] = [look(), look()];
    dress(chunks, bare, null);
    chunks.forEach((chunk, at) => {
      expect(seen(chunk)).toBe(before[at].mesh);
      expect(seen(chunk).material).toBe(bare.get("stone")!.materials);
    });
    const masks = Uint8Array.from({ length: 400 }, (_, at) => (at % 4 === 1 ? Math.floor(at / 4) : 0));
    dress(chunks, snowed, masks);
    applyBudget(scene, camera(-60), 1e9);
    chunks.forEach((chunk, at) => {
      expect(chunk.matrices).toBe(before[at].matrices);
      const coat = seen(chunk).geometry.getAttribute("coat");
      expect([...chunk.rows].map((one, k) => coat.getY(k) * 255 - one)).toEqual(
        [...chunk.rows].map(() => expect.closeTo(0, 4)),
      );
    });
    dress(chunks, bare, null);
    applyBudget(scene, camera(-60), 1e9);
    for (const chunk of chunks) expect(seen(chunk).geometry.getAttribute("coat")).toBeUndefined();
  });
});

describe("the budget", () => {
  it("draws all in sight where it is large, and nothing behind the camera counts", () => {
    shown(100);
    expect(applyBudget(scene, camera(-60), 1e9)).toMatchObject({ inSight: 100, drawn: 100 });
    expect(applyBudget(scene, camera(200), 1e9)).toMatchObject({ inSight: 0, drawn: 0 });
    expect(applyBudget(scene, camera(30), 1e9).inSight).toBeLessThan(100);
  });

  it("is kept, by thinning what is far first", () => {
    const chunks = shown(400);
    const { drawn, inSight } = applyBudget(scene, camera(-22), 1200);
    expect(inSight).toBeGreaterThan(300);
    expect(drawn).toBeLessThan(inSight);
    expect(drawn * 4).toBeLessThan(1200 + chunks.length * 12);
    const byDistance = [...chunks].sort((a, b) => a.sphere.center.x - b.sphere.center.x);
    const shares = byDistance.map((chunk) => seen(chunk).count / chunk.count);
    expect(shares[0]).toBeGreaterThan(shares[shares.length - 1]);
    for (const chunk of chunks) expect(seen(chunk).count).toBeGreaterThanOrEqual(1);
  });

  it("draws near copies whole and far ones as stand-ins, one form at a time", () => {
    const chunks = shown(200);
    applyBudget(scene, camera(-21), 1e9);
    const byDistance = [...chunks].sort((a, b) => a.sphere.center.x - b.sphere.center.x);
    for (const { meshes } of chunks) expect(meshes.filter((mesh) => mesh?.visible)).toHaveLength(1);
    // What is not drawn is not made.
    expect(byDistance[0].meshes[1]).toBeUndefined();
    expect(byDistance[0].meshes[0]?.visible).toBe(true);
    expect(byDistance[byDistance.length - 1].meshes[1]?.visible).toBe(true);
    expect(detailFor(1, 0.5, 3)).toBe(0);
    expect(detailFor(1, 1e4, 3)).toBe(2);
    expect(detailFor(20, 60, 3)).toBeLessThanOrEqual(detailFor(1, 60, 3));
    expect([detailFor(1, 1e4, 4), detailFor(1, 80, 4), detailFor(1, 80, 4, true)]).toEqual([3, 2, 3]);
    expect([detailFor(1, 80, 3, true), detailFor(1, 1, 4, true)]).toEqual([2, 0]);
  });

  it("draws all as from far away where a frame must be quick", () => {
    const chunks = shown(200);
    applyBudget(scene, camera(-21), 1e9, 0);
    for (const { meshes } of chunks) {
      expect(meshes[meshes.length - 1]?.visible).toBe(true);
      expect(meshes.filter((mesh) => mesh?.visible)).toHaveLength(1);
    }
  });

  it("draws more of them finely where a frame may take its time", () => {
    const fine = (nearer: number) => {
      const chunks = shown(200);
      applyBudget(scene, camera(-21), 1e9, nearer);
      return chunks.filter(({ meshes }) => meshes[0]?.visible).length;
    };
    expect(fine(3)).toBeGreaterThan(fine(1));
  });

  it("spares the few and large", () => {
    const chunks = shown(60, 60);
    applyBudget(scene, camera(-60), 300);
    expect(chunks.every((chunk) => seen(chunk).count === chunk.count)).toBe(true);
  });

  it("tells when other copies cast shadows than before", () => {
    const chunks = shown(200);
    for (const chunk of chunks) chunk.extent = 9;
    const first = applyBudget(scene, camera(-21), 1e9).shadows;
    expect(applyBudget(scene, camera(-21), 1e9).shadows).toBe(first);
    expect(applyBudget(scene, camera(120), 1e9).shadows).not.toBe(first);
  });

  it("forgets a layer that is taken out, but not the one that took its place", () => {
    const first = registerChunks(scene, "a", []);
    const second = registerChunks(scene, "a", []);
    first();
    expect(layersThere(scene)).toBe(1);
    second();
    expect(layersThere(scene)).toBe(0);
  });
});

import * as THREE from "three";
import { type Laden, planned } from "./budget";
import { disposeCoat, withCoat } from "./coats";
import type { ItemLook, ItemShape } from "./items";
import { drawnByProcessor } from "../site/machine";
import { COATS } from "./uniforms";
import type { Placements } from "../site/placements";

/** Sides of the squares that copies are sorted by, metres: small things in small squares, so that near means near. */
const SIDES = { small: 6, large: 14 };
const SMALL = 1.2;
/** Up to how many times its own extent away, and metres more, a copy is drawn at a level of detail. */
const REACH = drawnByProcessor
  ? [
      { times: 0.7, more: 0.5 },
      { times: 2.4, more: 4 },
      { times: 7, more: 10 },
    ]
  : [
      { times: 6, more: 10 },
      { times: 18, more: 30 },
      { times: 60, more: 60 },
    ];

/** The simplest level of detail that is solid, unlike a stand-in: shadows of what is out of sight are drawn from it. */
const SIMPLE = 2;

/** The least extent of what casts a shadow, metres. */
const CASTS_SHADOW = drawnByProcessor ? 1.5 : 0.7;

/** How far away things out of sight may stand whose shadows are drawn, metres. */
const SHADOWS_FROM = 90;

/** Copies of one kit variant that stand near each other: culled together, and thinned with distance from their own end. */
export interface Chunk {
  /** Holds the meshes that were made so far; at most one of them is seen. */
  group: THREE.Group;
  /** One mesh for each level of detail, made when it is first drawn; they share their copies. */
  meshes: (THREE.InstancedMesh | undefined)[];
  geometries: THREE.BufferGeometry[];
  kind: string;
  /** What its copies look like; null until that is there. */
  look: ItemLook | null;
  /** Masks of the covers on its copies; null where nothing coats them. */
  coat: THREE.InstancedBufferAttribute | null;
  /** Rows of its copies in the table of placements, as many as there are copies. */
  rows: Uint32Array;
  matrices: THREE.InstancedBufferAttribute;
  colours: THREE.InstancedBufferAttribute;
  count: number;
  /** Triangles of a copy, by level of detail. */
  triangles: number[];
  sphere: THREE.Sphere;
  /** The greatest extent of a copy, metres. */
  extent: number;
  /** Few and large: always drawn whole. */
  whole: boolean;
}

/** How far the placements reach, as a factor on the squares: on a large site more copies go together. */
function coarseness(position: ArrayLike<number>): number {
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < position.length; i += 3) {
    low = Math.min(low, position[i]);
    high = Math.max(high, position[i]);
  }
  return Math.max(1, (high - low) / 160);
}

/** Copies that are sorted or set in one go, before whoever else wants the page has a turn. */
const IN_ONE_GO = 2000;

/**
 * Sort placements into chunks, giving way every so many copies. Within a chunk copies come in an order that leaves an even stand
 * when cut short. What they look like is not part of it: see {@link dress}.
 */
export function* chunking(placements: Placements, shapes: Map<string, ItemShape>): Generator<void, Chunk[]> {
  const { item, variant, position, rotation, size, tint, rank, meta } = placements;
  const factor = coarseness(position);
  const kinds = meta.items.map((kind) => shapes.get(kind));
  const rows = new Map<number, number[]>();
  for (let i = 0; i < item.length; i++) {
    const side = factor * ((kinds[item[i]]?.extent ?? 0) < SMALL ? SIDES.small : SIDES.large);
    const [x, z] = [Math.floor(position[i * 3] / side) + 4096, Math.floor(position[i * 3 + 2] / side) + 4096];
    const name = ((item[i] * 128 + variant[i]) * 8192 + x) * 8192 + z;
    const list = rows.get(name);
    if (list) list.push(i);
    else rows.set(name, [i]);
    if (i % IN_ONE_GO === IN_ONE_GO - 1) yield;
  }
  let set = 0;
  const chunks: Chunk[] = [];
  const place = new THREE.Vector3();
  const turn = new THREE.Quaternion();
  const scale = new THREE.Vector3();
  const matrix = new THREE.Matrix4();
  for (const list of rows.values()) {
    const shape = kinds[item[list[0]]];
    const geometries = shape?.geometries[variant[list[0]]];
    if (!shape || !geometries) continue;
    set += list.length;
    if (set >= IN_ONE_GO) {
      set = 0;
      yield;
    }
    list.sort((a, b) => rank[a] - rank[b]);
    const matrices = new THREE.InstancedBufferAttribute(new Float32Array(list.length * 16), 16);
    const colours = new THREE.InstancedBufferAttribute(new Float32Array(list.length * 3), 3);
    const box = new THREE.Box3();
    let largest = 0;
    list.forEach((i, at) => {
      place.fromArray(position, i * 3);
      turn.fromArray(rotation, i * 4);
      scale.setScalar(size[i]);
      largest = Math.max(largest, size[i]);
      matrix.compose(place, turn, scale).toArray(matrices.array, at * 16);
      // Tints are linear already, as the renderer's colours are.
      for (let k = 0; k < 3; k++) colours.array[at * 3 + k] = tint[i * 3 + k];
      box.expandByPoint(place);
    });
    const reach = largest * Math.max(...geometries.map(reachOf));
    const sphere = box.getBoundingSphere(new THREE.Sphere());
    sphere.radius += reach;
    chunks.push({
      group: new THREE.Group(),
      meshes: geometries.map(() => undefined),
      geometries,
      kind: meta.items[item[list[0]]],
      look: null,
      coat: null,
      rows: Uint32Array.from(list),
      matrices,
      colours,
      count: list.length,
      triangles: geometries.map((geometry) => geometry.index!.count / 3),
      sphere,
      extent: shape.extent * largest,
      whole: meta.count < 80,
    });
  }
  return chunks;
}

/** All chunks at once. */
export function chunked(placements: Placements, shapes: Map<string, ItemShape>): Chunk[] {
  const work = chunking(placements, shapes);
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
  }
}

/**
 * Give chunks their looks and what lies on their copies: masks of covers, uint8 by rows of the table, or null for nothing at all.
 * Where copies stand is left as it is.
 */
export function dress(chunks: Chunk[], looks: Map<string, ItemLook>, masks: Uint8Array | null) {
  for (const chunk of chunks) {
    const coated = chunk.coat !== null;
    if (coated !== (masks !== null)) undress(chunk);
    if (masks) {
      const coat = chunk.coat ?? new THREE.InstancedBufferAttribute(new Uint8Array(chunk.count * COATS), COATS, true);
      // Four masks a copy are one number to copy.
      const [from, to] = [masks, coat.array as Uint8Array].map(({ buffer, byteOffset, length }) => {
        return new Uint32Array(buffer, byteOffset, length / COATS);
      });
      chunk.rows.forEach((row, at) => (to[at] = from[row]));
      coat.needsUpdate = true;
      chunk.coat = coat;
    }
    chunk.look = looks.get(chunk.kind) ?? null;
    for (const mesh of chunk.meshes)
      if (mesh && chunk.look) {
        mesh.material = chunk.look.materials;
        mesh.customDepthMaterial = chunk.look.depth;
      }
  }
}

/** Take away a chunk's meshes; they are made anew when they are drawn next. */
function undress(chunk: Chunk) {
  disposeChunk(chunk);
  chunk.group.clear();
  chunk.meshes.fill(undefined);
  chunk.coat = null;
}

/** Let go of what a chunk holds by itself. */
export function disposeChunk(chunk: Chunk) {
  for (const mesh of chunk.meshes) {
    if (chunk.coat && mesh) disposeCoat(mesh.geometry);
    mesh?.dispose();
  }
}

/** How far from its origin a geometry reaches. */
function reachOf(geometry: THREE.BufferGeometry): number {
  if (!geometry.boundingSphere) geometry.computeBoundingSphere();
  const { center, radius } = geometry.boundingSphere!;
  return center.length() + radius;
}

/** Show a chunk's copies at a level of detail, so many of them. */
function show(chunk: Chunk, detail: number, count: number) {
  if (!chunk.look) return;
  let mesh = chunk.meshes[detail];
  if (!mesh) {
    const geometry = chunk.geometries[detail];
    mesh = new THREE.InstancedMesh(chunk.coat ? withCoat(geometry, chunk.coat) : geometry, chunk.look.materials, 0);
    mesh.instanceMatrix = chunk.matrices;
    mesh.instanceColor = chunk.colours;
    mesh.boundingSphere = chunk.sphere;
    mesh.receiveShadow = true;
    mesh.raycast = () => undefined;
    mesh.castShadow = chunk.extent > CASTS_SHADOW;
    mesh.customDepthMaterial = chunk.look.depth;
    mesh.matrixAutoUpdate = false;
    chunk.meshes[detail] = mesh;
    chunk.group.add(mesh);
  }
  chunk.meshes.forEach((one, level) => one && (one.visible = level === detail && count > 0));
  mesh.count = count;
}

/** The level of detail at which something of an extent is drawn from some metres away; bare ones skip the simple level. */
export function detailFor(extent: number, away: number, levels: number, bare = false): number {
  const level = REACH.findIndex(({ times, more }) => away < extent * times + more);
  const wanted = Math.min(level < 0 ? REACH.length : level, levels - 1);
  return bare && wanted === SIMPLE ? Math.min(SIMPLE + 1, levels - 1) : wanted;
}

/** The chunks of each scene that is drawn, by layer. */
const registered = new WeakMap<THREE.Scene, Map<string, Chunk[]>>();

function chunksOf(scene: THREE.Scene): Map<string, Chunk[]> {
  if (!registered.has(scene)) registered.set(scene, new Map());
  return registered.get(scene)!;
}

/** How many layers have their copies in the scene. */
export function layersThere(scene: THREE.Scene): number {
  return chunksOf(scene).size;
}

/** Put a layer's chunks under the budget; returns how to take them out. */
export function registerChunks(scene: THREE.Scene, layer: string, chunks: Chunk[]): () => void {
  const layers = chunksOf(scene);
  layers.set(layer, chunks);
  return () => {
    if (layers.get(layer) === chunks) layers.delete(layer);
  };
}

/** What a frame shows of the placed items. */
export interface Frame {
  inSight: number;
  drawn: number;
  shadows: number;
}

/** One more number in a hash of several (FNV-1a, on whole numbers). */
const mixed = (hash: number, ...more: number[]) =>
  more.reduce((sum, one) => Math.imul(sum ^ one, 16777619) >>> 0, hash);

/**
 * Draw no more than a budget of triangles, see {@link planned}: chunks out of sight count nothing. Returns how many copies are in
 * sight and how many of them are drawn, and a number that tells one set of copies that cast shadows from others.
 */
export function applyBudget(scene: THREE.Scene, camera: THREE.Camera, budget: number, nearer = 1): Frame {
  const frustum = new THREE.Frustum().setFromProjectionMatrix(
    new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
  );
  const seen: (Laden & { chunk: Chunk })[] = [];
  let shadows = 0;
  for (const chunk of [...chunksOf(scene).values()].flat()) {
    if (!frustum.intersectsSphere(chunk.sphere)) {
      // Out of sight they may still cast shadows into it; their simplest form does for that.
      const casts = chunk.extent > CASTS_SHADOW && chunk.sphere.center.distanceTo(camera.position) < SHADOWS_FROM;
      if (casts) {
        show(chunk, Math.min(SIMPLE, chunk.meshes.length - 1), chunk.count);
        shadows = mixed(shadows, SIMPLE, chunk.count);
      } else chunk.meshes.forEach((mesh) => mesh && (mesh.visible = false));
      continue;
    }
    const away = Math.max(1, chunk.sphere.center.distanceTo(camera.position) - chunk.sphere.radius * 0.7);
    const { count, triangles, extent, whole } = chunk;
    seen.push({ chunk, away, count, triangles, extent, whole, bare: chunk.look?.bare ?? false });
  }
  const plan = planned(seen, budget, detailFor, nearer);
  let drawn = 0;
  let inSight = 0;
  seen.forEach(({ chunk }, row) => {
    const { detail, count } = plan[row];
    show(chunk, detail, count);
    if (chunk.extent > CASTS_SHADOW) shadows = mixed(shadows, detail, count);
    drawn += count;
    inSight += chunk.count;
  });
  return { inSight, drawn, shadows };
}

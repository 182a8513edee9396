import * as THREE from "three";
import { COATS, disposeCoat, withCoat } from "./coats";
import type { ItemModel } from "./items";
import { drawnByProcessor } from "../site/machine";
import type { Placements } from "./preview";

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
  materials: THREE.Material[];
  depth?: THREE.Material;
  model: ItemModel;
  /** Masks of the covers on its copies; none where nothing coats them. */
  coat?: THREE.InstancedBufferAttribute;
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

/** Sort placements into chunks. Within a chunk copies come in an order that leaves an even stand when cut short. */
export function chunked(
  placements: Placements,
  models: Map<string, ItemModel>,
  masks: Uint8Array | null = null,
): Chunk[] {
  const { item, variant, position, rotation, size, tint, rank, meta } = placements;
  const factor = coarseness(position);
  const kinds = meta.items.map((kind) => models.get(kind));
  const rows = new Map<number, number[]>();
  for (let i = 0; i < item.length; i++) {
    const side = factor * ((kinds[item[i]]?.extent ?? 0) < SMALL ? SIDES.small : SIDES.large);
    const [x, z] = [Math.floor(position[i * 3] / side) + 4096, Math.floor(position[i * 3 + 2] / side) + 4096];
    const name = ((item[i] * 128 + variant[i]) * 8192 + x) * 8192 + z;
    const list = rows.get(name);
    if (list) list.push(i);
    else rows.set(name, [i]);
  }
  const chunks: Chunk[] = [];
  const place = new THREE.Vector3();
  const turn = new THREE.Quaternion();
  const scale = new THREE.Vector3();
  const matrix = new THREE.Matrix4();
  for (const list of rows.values()) {
    const model = kinds[item[list[0]]];
    const geometries = model?.geometries[variant[list[0]]];
    if (!model || !geometries) continue;
    list.sort((a, b) => rank[a] - rank[b]);
    const matrices = new THREE.InstancedBufferAttribute(new Float32Array(list.length * 16), 16);
    const colours = new THREE.InstancedBufferAttribute(new Float32Array(list.length * 3), 3);
    const coat = masks
      ? new THREE.InstancedBufferAttribute(new Uint8Array(list.length * COATS), COATS, true)
      : undefined;
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
      if (coat) coat.array.set(masks!.subarray(i * COATS, (i + 1) * COATS), at * COATS);
      box.expandByPoint(place);
    });
    const reach = largest * Math.max(...geometries.map(reachOf));
    const sphere = box.getBoundingSphere(new THREE.Sphere());
    sphere.radius += reach;
    chunks.push({
      group: new THREE.Group(),
      meshes: geometries.map(() => undefined),
      geometries,
      materials: model.materials,
      depth: model.depth,
      model,
      coat,
      matrices,
      colours,
      count: list.length,
      triangles: geometries.map((geometry) => geometry.index!.count / 3),
      sphere,
      extent: model.extent * largest,
      whole: meta.count < 80,
    });
  }
  return chunks;
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
  let mesh = chunk.meshes[detail];
  if (!mesh) {
    const geometry = chunk.geometries[detail];
    mesh = new THREE.InstancedMesh(chunk.coat ? withCoat(geometry, chunk.coat) : geometry, chunk.materials, 0);
    mesh.instanceMatrix = chunk.matrices;
    mesh.instanceColor = chunk.colours;
    mesh.boundingSphere = chunk.sphere;
    mesh.receiveShadow = true;
    mesh.raycast = () => undefined;
    mesh.castShadow = chunk.extent > CASTS_SHADOW;
    if (chunk.depth) mesh.customDepthMaterial = chunk.depth;
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

const registered = new Map<string, Chunk[]>();

/** How many layers have their copies in the scene. */
export function layersThere(): number {
  return registered.size;
}

/** Put a layer's chunks under the budget; returns how to take them out. */
export function registerChunks(layer: string, chunks: Chunk[]): () => void {
  registered.set(layer, chunks);
  return () => {
    if (registered.get(layer) === chunks) registered.delete(layer);
  };
}

/**
 * Draw no more than a budget of triangles: chunks out of sight count nothing, far ones are drawn simpler and thinned
 * first. Returns how many copies are in sight and how many of them are drawn.
 *
 * What is near is seen by how much nearer it is taken to be: 1 as a rule, more for a frame that may take its time; 0 for
 * one that must be quick and shows something else: there all are drawn as from far away.
 */
export function applyBudget(camera: THREE.Camera, budget: number, nearer = 1): { inSight: number; drawn: number } {
  const frustum = new THREE.Frustum().setFromProjectionMatrix(
    new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
  );
  const seen: { chunk: Chunk; away: number; detail: number }[] = [];
  for (const chunk of [...registered.values()].flat()) {
    if (!frustum.intersectsSphere(chunk.sphere)) {
      // Out of sight they may still cast shadows into it; their simplest form does for that.
      const casts = chunk.extent > CASTS_SHADOW && chunk.sphere.center.distanceTo(camera.position) < SHADOWS_FROM;
      if (casts) show(chunk, Math.min(SIMPLE, chunk.meshes.length - 1), chunk.count);
      else chunk.meshes.forEach((mesh) => mesh && (mesh.visible = false));
      continue;
    }
    const away = Math.max(1, chunk.sphere.center.distanceTo(camera.position) - chunk.sphere.radius * 0.7);
    const levels = chunk.meshes.length;
    seen.push({
      chunk,
      away,
      detail: nearer ? detailFor(chunk.extent, away / nearer, levels, chunk.model.bare) : levels - 1,
    });
  }
  const share = (reach: number, { chunk, away }: (typeof seen)[number]) =>
    chunk.whole ? 1 : Math.min(1, (reach / away) ** 1.5);
  const cost = (reach: number) =>
    seen.reduce(
      (sum, entry) => sum + Math.ceil(entry.chunk.count * share(reach, entry)) * entry.chunk.triangles[entry.detail],
      0,
    );
  let low = 0.2;
  let high = 1e5;
  if (cost(high) > budget)
    for (let step = 0; step < 24; step++) {
      const middle = Math.sqrt(low * high);
      if (cost(middle) > budget) high = middle;
      else low = middle;
    }
  else low = high;
  let drawn = 0;
  let inSight = 0;
  // What is thinned still shows that it is there, except where a frame must be quick: each chunk costs a call.
  const whole = nearer ? Math.ceil : Math.floor;
  for (const entry of seen) {
    const count = whole(entry.chunk.count * share(low, entry));
    show(entry.chunk, entry.detail, count);
    drawn += count;
    inSight += entry.chunk.count;
  }
  return { inSight, drawn };
}

import * as THREE from "three";
import type { ItemModel } from "./items";
import { drawnByProcessor } from "./machine";
import type { Placements } from "./preview";

/** Sides of the squares that copies are sorted by, metres: small things in small squares, so that near means near. */
const SIDES = { small: 6, large: 14 };
const SMALL = 1.2;
/** Up to how many times its own extent away, and metres more, a copy is drawn at a level of detail. */
const REACH = drawnByProcessor
  ? [
      { times: 0.7, more: 0.5 },
      { times: 2.4, more: 4 },
    ]
  : [
      { times: 6, more: 10 },
      { times: 18, more: 30 },
    ];

/** The least extent of what casts a shadow, metres. */
const CASTS_SHADOW = drawnByProcessor ? 1.5 : 0.7;

/** Copies of one kit variant that stand near each other: culled together, and thinned with distance from their own end. */
export interface Chunk {
  /** One mesh for each level of detail; they share their copies, and one of them is seen. */
  meshes: THREE.InstancedMesh[];
  count: number;
  /** Triangles of a copy, by level of detail. */
  triangles: number[];
  sphere: THREE.Sphere;
  /** The greatest extent of a copy, metres. */
  extent: number;
  /** Few and large: always drawn whole. */
  whole: boolean;
}

/** Sort placements into chunks. Within a chunk copies come in an order that leaves an even stand when cut short. */
export function chunked(placements: Placements, models: Map<string, ItemModel>): Chunk[] {
  const { item, variant, position, rotation, size, tint, rank, meta } = placements;
  const rows = new Map<string, number[]>();
  for (let i = 0; i < item.length; i++) {
    const side = (models.get(meta.items[item[i]])?.extent ?? 0) < SMALL ? SIDES.small : SIDES.large;
    const cell = `${Math.floor(position[i * 3] / side)},${Math.floor(position[i * 3 + 2] / side)}`;
    const name = `${item[i]}/${variant[i]}|${cell}`;
    const list = rows.get(name);
    if (list) list.push(i);
    else rows.set(name, [i]);
  }
  const chunks: Chunk[] = [];
  const place = new THREE.Vector3();
  const turn = new THREE.Quaternion();
  const scale = new THREE.Vector3();
  const matrix = new THREE.Matrix4();
  const colour = new THREE.Color();
  for (const list of rows.values()) {
    const model = models.get(meta.items[item[list[0]]]);
    const geometries = model?.geometries[variant[list[0]]];
    if (!model || !geometries) continue;
    list.sort((a, b) => rank[a] - rank[b]);
    const meshes = geometries.map((geometry) => new THREE.InstancedMesh(geometry, model.materials, list.length));
    const [first] = meshes;
    let largest = 0;
    list.forEach((i, at) => {
      place.fromArray(position, i * 3);
      turn.fromArray(rotation, i * 4);
      scale.setScalar(size[i]);
      largest = Math.max(largest, size[i]);
      first.setMatrixAt(at, matrix.compose(place, turn, scale));
      first.setColorAt(at, colour.setRGB(tint[i * 3], tint[i * 3 + 1], tint[i * 3 + 2], THREE.LinearSRGBColorSpace));
    });
    first.computeBoundingSphere();
    const extent = model.extent * largest;
    for (const mesh of meshes) {
      mesh.instanceMatrix = first.instanceMatrix;
      mesh.instanceColor = first.instanceColor;
      mesh.boundingSphere = first.boundingSphere;
      mesh.receiveShadow = true;
      mesh.raycast = () => undefined;
      mesh.castShadow = extent > CASTS_SHADOW;
      mesh.visible = mesh === first;
    }
    chunks.push({
      meshes,
      count: list.length,
      triangles: geometries.map((geometry) => geometry.index!.count / 3),
      sphere: first.boundingSphere!,
      extent,
      whole: placements.meta.count < 80,
    });
  }
  return chunks;
}

/** The level of detail at which something of an extent is drawn from some metres away. */
export function detailFor(extent: number, away: number, levels: number): number {
  const level = REACH.findIndex(({ times, more }) => away < extent * times + more);
  return Math.min(level < 0 ? REACH.length : level, levels - 1);
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
 */
export function applyBudget(camera: THREE.Camera, budget: number): { inSight: number; drawn: number } {
  const frustum = new THREE.Frustum().setFromProjectionMatrix(
    new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
  );
  const seen: { chunk: Chunk; away: number; detail: number }[] = [];
  for (const chunk of [...registered.values()].flat()) {
    if (!frustum.intersectsSphere(chunk.sphere)) {
      // Out of sight they may still cast shadows into it; their simplest form does for that.
      chunk.meshes.forEach((mesh, detail) => (mesh.visible = detail === chunk.meshes.length - 1));
      continue;
    }
    const away = Math.max(1, chunk.sphere.center.distanceTo(camera.position) - chunk.sphere.radius * 0.7);
    seen.push({ chunk, away, detail: detailFor(chunk.extent, away, chunk.meshes.length) });
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
  for (const entry of seen) {
    const count = Math.ceil(entry.chunk.count * share(low, entry));
    entry.chunk.meshes.forEach((mesh, detail) => {
      mesh.visible = detail === entry.detail;
      mesh.count = count;
    });
    drawn += count;
    inSight += entry.chunk.count;
  }
  return { inSight, drawn };
}

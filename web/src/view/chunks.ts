import * as THREE from "three";
import type { Placements } from "./preview";

const SIDE = 14;

/** Copies of one kit mesh that stand near each other: culled together, and thinned with distance from their own end. */
export interface Chunk {
  mesh: THREE.InstancedMesh;
  count: number;
  triangles: number;
  centre: THREE.Vector3;
  /** Few and large: always drawn whole. */
  whole: boolean;
}

/** Sort placements into chunks. Within a chunk copies come in an order that leaves an even stand when cut short. */
export function chunked(
  placements: Placements,
  geometries: Map<string, THREE.BufferGeometry>,
  materials: Map<string, THREE.Material>,
): Chunk[] {
  const { item, variant, position, rotation, size, tint, rank, meta } = placements;
  const rows = new Map<string, number[]>();
  for (let i = 0; i < item.length; i++) {
    const cell = `${Math.floor(position[i * 3] / SIDE)},${Math.floor(position[i * 3 + 2] / SIDE)}`;
    const name = `${meta.items[item[i]]}/${variant[i]}|${cell}`;
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
  for (const [name, list] of rows) {
    const kind = name.slice(0, name.indexOf("|"));
    const geometry = geometries.get(kind);
    const material = materials.get(kind.slice(0, kind.indexOf("/")));
    if (!geometry || !material) continue;
    list.sort((a, b) => rank[a] - rank[b]);
    const mesh = new THREE.InstancedMesh(geometry, material, list.length);
    list.forEach((i, at) => {
      place.fromArray(position, i * 3);
      turn.fromArray(rotation, i * 4);
      scale.setScalar(size[i]);
      mesh.setMatrixAt(at, matrix.compose(place, turn, scale));
      mesh.setColorAt(at, colour.setRGB(tint[i * 3], tint[i * 3 + 1], tint[i * 3 + 2], THREE.LinearSRGBColorSpace));
    });
    mesh.computeBoundingSphere();
    mesh.receiveShadow = true;
    mesh.raycast = () => undefined;
    const triangles = geometry.index!.count / 3;
    mesh.castShadow = triangles > 250;
    chunks.push({
      mesh,
      count: list.length,
      triangles,
      centre: mesh.boundingSphere!.center.clone(),
      whole: placements.meta.count < 80,
    });
  }
  return chunks;
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
 * Draw no more than a budget of triangles: chunks out of sight count nothing, far ones are thinned first.
 * Returns how many copies are in sight and how many of them are drawn.
 */
export function applyBudget(camera: THREE.Camera, budget: number): { inSight: number; drawn: number } {
  const frustum = new THREE.Frustum().setFromProjectionMatrix(
    new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
  );
  const seen: { chunk: Chunk; away: number }[] = [];
  for (const chunk of [...registered.values()].flat()) {
    if (!frustum.intersectsSphere(chunk.mesh.boundingSphere!)) continue;
    const away = Math.max(1, chunk.centre.distanceTo(camera.position) - SIDE / 2);
    seen.push({ chunk, away });
  }
  const share = (reach: number, { chunk, away }: (typeof seen)[number]) =>
    chunk.whole ? 1 : Math.min(1, (reach / away) ** 1.5);
  const cost = (reach: number) =>
    seen.reduce((sum, entry) => sum + Math.ceil(entry.chunk.count * share(reach, entry)) * entry.chunk.triangles, 0);
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
    entry.chunk.mesh.count = Math.ceil(entry.chunk.count * share(low, entry));
    drawn += entry.chunk.mesh.count;
    inSight += entry.chunk.count;
  }
  return { inSight, drawn };
}

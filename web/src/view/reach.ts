import * as THREE from "three";
import type { Point } from "../site/poses";

const caster = new THREE.Raycaster();
const DOWN = new THREE.Vector3(0, -1, 0);

/** The surfaces of a scene without some of them; with only the ground, if that is asked. */
export function surfacesOf(scene: THREE.Scene, without: ReadonlySet<string>, groundOnly = false): THREE.Object3D[] {
  const found: THREE.Object3D[] = [];
  scene.traverse((object) => {
    const id = object.userData.surface as string | undefined;
    if (id && !without.has(id) && (!groundOnly || id === "ground")) found.push(object);
  });
  return found;
}

/** Where the pointer is, from -1 to 1 across the view. */
export function pointerAt(event: { clientX: number; clientY: number }, element: HTMLElement): THREE.Vector2 {
  const box = element.getBoundingClientRect();
  return new THREE.Vector2(
    ((event.clientX - box.left) / box.width) * 2 - 1,
    1 - ((event.clientY - box.top) / box.height) * 2,
  );
}

/** The height of what lies under a place, not higher than a metre above it; null where there is nothing. */
export function heightBelow(objects: THREE.Object3D[], [x, y, z]: Point, from = y + 1): number | null {
  caster.set(new THREE.Vector3(x, from, z), DOWN);
  return caster.intersectObjects(objects, false)[0]?.point.y ?? null;
}

/** What of a surface is under the pointer: the point, the way that it faces, and which surface it is. */
export function hitUnder(
  at: THREE.Vector2,
  camera: THREE.Camera,
  objects: THREE.Object3D[],
): { point: THREE.Vector3; normal: THREE.Vector3; surface: string } | null {
  caster.setFromCamera(at, camera);
  const hit = caster.intersectObjects(objects, false)[0];
  if (!hit?.face) return null;
  const normal = hit.face.normal.clone().transformDirection(hit.object.matrixWorld);
  // What is met from behind is laid on from where it is seen.
  if (normal.dot(caster.ray.direction) > 0) normal.negate();
  return { point: hit.point, normal, surface: hit.object.userData.surface as string };
}

/** The surface point under the pointer; null where there is none. */
export function underPointer(at: THREE.Vector2, camera: THREE.Camera, objects: THREE.Object3D[]): Point | null {
  caster.setFromCamera(at, camera);
  const hit = caster.intersectObjects(objects, false)[0];
  return hit ? (hit.point.toArray() as Point) : null;
}

/** The point under the pointer on a level plane; null where it looks along it. */
export function onLevel(at: THREE.Vector2, camera: THREE.Camera, level: number): Point | null {
  caster.setFromCamera(at, camera);
  const { origin, direction } = caster.ray;
  const away = (level - origin.y) / direction.y;
  return Number.isFinite(away) && away > 0 && away < 2000
    ? (origin.clone().addScaledVector(direction, away).toArray() as Point)
    : null;
}

/** The height of the point of an upright line that is nearest to the pointer's ray. */
export function onStem(at: THREE.Vector2, camera: THREE.Camera, foot: Point): number {
  caster.setFromCamera(at, camera);
  const { origin, direction } = caster.ray;
  const from = new THREE.Vector3(...foot).sub(origin);
  const slope = direction.y;
  const across = 1 - slope * slope;
  if (across < 1e-6) return foot[1];
  return foot[1] + (slope * from.dot(direction) - from.y) / across;
}

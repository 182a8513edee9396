import * as THREE from "three";
import type { Shot } from "../api/client";

/** What a shot takes in. */
export type Lens = Pick<Shot, "lens" | "frame" | "upright">;

/** Focal lengths are told on a picture of 36 × 24 mm; of other proportions as much is taken as fits into that. */
const [WIDE, HIGH] = [36, 24];
/** The cosine of the steepest way that a shifted lens can look. */
const STEEP = 0.5;

/** Width over height of a picture. */
export function ratioOf(frame: Shot["frame"]): number {
  const [wide, high] = frame.split(":").map(Number);
  return wide / high;
}

/** The tangent of half the upright angle of a view of some proportions into which a shot's picture fits whole. */
export function tangentOf({ lens, frame }: Lens, aspect: number): number {
  const ratio = ratioOf(frame);
  const high = Math.min(HIGH, WIDE / ratio);
  return Math.max(high, (high * ratio) / aspect) / 2 / lens;
}

/** How far a lens is shifted that looks along a way and keeps walls upright, as the tangent of an angle; null where it is not. */
export function shiftOf(way: THREE.Vector3, upright: boolean): number | null {
  const level = Math.hypot(way.x, way.z);
  return upright && level > STEEP * way.length() ? way.y / level : null;
}

/**
 * Hold a camera level and shift its lens by as much, so that what stands upright does so in the picture; or put it back.
 *
 * @param target what it looks at.
 */
export function holdUpright(
  camera: THREE.PerspectiveCamera,
  target: THREE.Vector3,
  upright: boolean,
  size: { width: number; height: number },
) {
  const way = target.clone().sub(camera.position);
  const tangent = shiftOf(way, upright);
  if (tangent === null) {
    if (!camera.view?.enabled) return;
    camera.clearViewOffset();
    camera.lookAt(target);
  } else {
    const shift = tangent / (2 * Math.tan((camera.fov * Math.PI) / 360));
    camera.lookAt(camera.position.x + way.x, camera.position.y, camera.position.z + way.z);
    const { width, height } = size;
    camera.setViewOffset(width, height, 0, -shift * height, width, height);
  }
  camera.updateMatrixWorld();
}

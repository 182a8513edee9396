import * as THREE from "three";
import type { Shot } from "../api/client";
import { ratioOf, shiftOf, tangentOf } from "./lens";

/** What is blurred by less than this on 36 × 24 mm is called sharp, metres. */
const SHARP = 0.00003;

/** What a shot takes in: from its lens, along four edges. */
export interface Pyramid {
  /** Where the lens is. */
  apex: THREE.Vector3;
  /** The corners of its picture at a distance ahead, round about. */
  at: (distance: number) => THREE.Vector3[];
  /** How far ahead something is. */
  ahead: (point: THREE.Vector3) => number;
}

/** What a shot takes in. */
export function pyramidOf(shot: Shot): Pyramid {
  const apex = new THREE.Vector3(...(shot.position as [number, number, number]));
  const way = new THREE.Vector3(...(shot.target as [number, number, number])).sub(apex);
  const shift = shiftOf(way, shot.upright);
  const ahead = (shift === null ? way.clone() : way.clone().setY(0)).normalize();
  // Straight up or down, north is up in the picture.
  const right = new THREE.Vector3().crossVectors(ahead, THREE.Object3D.DEFAULT_UP);
  if (right.lengthSq() < 1e-12) right.set(1, 0, 0);
  right.normalize();
  const up = new THREE.Vector3().crossVectors(right, ahead);
  const high = tangentOf(shot, ratioOf(shot.frame));
  const wide = high * ratioOf(shot.frame);
  return {
    apex,
    at: (distance) =>
      [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ].map(([x, y]) =>
        apex
          .clone()
          .addScaledVector(ahead, distance)
          .addScaledVector(right, distance * wide * x)
          .addScaledVector(up, distance * (high * y + (shift ?? 0))),
      ),
    ahead: (point) => point.clone().sub(apex).dot(ahead),
  };
}

/**
 * From where to where a lens is sharp, metres ahead, by the thin lens; null where it is sharp all over.
 *
 * @param lens its focal length, mm. @param distance what it is set to, metres.
 */
export function sharpFrom(lens: number, aperture: number, distance: number): [number, number] | null {
  if (!aperture) return null;
  const focal = lens / 1000;
  const hyperfocal = focal ** 2 / (aperture * SHARP) + focal;
  const near = (distance * (hyperfocal - focal)) / (hyperfocal + distance - 2 * focal);
  const far = distance < hyperfocal ? (distance * (hyperfocal - focal)) / (hyperfocal - distance) : Infinity;
  return [near, far];
}

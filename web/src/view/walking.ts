import * as THREE from "three";

/** How high an eye is over what one stands on, metres, and how far it can be set. */
export const EYE = { usual: 1.65, least: 0.2, most: 60 };
/** Metres a second on foot, and how many times as fast in a hurry. */
const PACE = 1.6;
const HURRY = 4;
/** Radians a second that the keys turn, and that a pixel of a drag does. */
const TURN = 1.2;
const DRAG = 0.004;
/** No steeper up or down than this, radians. */
const STEEPEST = 1.4;
/** How high a step one takes without a jump, metres. */
export const STEP_UP = 0.7;
/** What one sees is told by a point so far ahead, metres. */
const AHEAD = 4;

/** What the keys do: along, to the right, turning to the right, upwards. */
const KEYS: Record<string, readonly [number, number, number, number]> = {
  arrowup: [1, 0, 0, 0],
  w: [1, 0, 0, 0],
  arrowdown: [-1, 0, 0, 0],
  s: [-1, 0, 0, 0],
  a: [0, -1, 0, 0],
  d: [0, 1, 0, 0],
  arrowleft: [0, 0, -1, 0],
  arrowright: [0, 0, 1, 0],
  pageup: [0, 0, 0, 1],
  pagedown: [0, 0, 0, -1],
};

/** Someone who walks: where they stand, where they look, and how high their eyes are over the ground. */
export interface Walker {
  x: number;
  z: number;
  /** Radians to the right of north, and up. */
  bearing: number;
  up: number;
  eye: number;
}

export const isWalkKey = (key: string) => key.toLowerCase() in KEYS;

/** Someone who takes a camera's place. */
export function walkerAt(position: THREE.Vector3, target: THREE.Vector3, ground: number | null): Walker {
  const way = target.clone().sub(position).normalize();
  const over = ground === null ? EYE.usual : position.y - ground;
  return {
    x: position.x,
    z: position.z,
    bearing: Math.atan2(way.x, -way.z),
    up: Math.asin(Math.max(-1, Math.min(1, way.y))),
    // Whoever looks from a hill or a mast comes down to the ground.
    eye: over > 0.3 && over < 3 ? over : EYE.usual,
  };
}

/** Where someone is after some seconds with keys held. */
export function walked(walker: Walker, held: Iterable<string>, seconds: number, hurries: boolean): Walker {
  const [along, right, turn, rise] = [0, 1, 2, 3].map((k) =>
    Math.max(
      -1,
      Math.min(
        1,
        [...held].reduce((sum, key) => sum + (KEYS[key]?.[k] ?? 0), 0),
      ),
    ),
  );
  const way = seconds * PACE * (hurries ? HURRY : 1);
  const bearing = walker.bearing + turn * TURN * seconds;
  const [sin, cos] = [Math.sin(bearing), Math.cos(bearing)];
  return {
    ...walker,
    bearing,
    x: walker.x + (sin * along + cos * right) * way,
    z: walker.z + (-cos * along + sin * right) * way,
    eye: Math.max(EYE.least, Math.min(EYE.most, walker.eye + rise * way)),
  };
}

/** Where someone looks after a drag of so many pixels: the picture goes with the pointer. */
export function looked(walker: Walker, across: number, down: number): Walker {
  const up = walker.up + down * DRAG;
  return { ...walker, bearing: walker.bearing - across * DRAG, up: Math.max(-STEEPEST, Math.min(STEEPEST, up)) };
}

/** Put a camera where someone looks from, over the ground there. */
export function stand({ x, z, bearing, up, eye }: Walker, ground: number, camera: THREE.Camera, target: THREE.Vector3) {
  camera.position.set(x, ground + eye, z);
  const level = Math.cos(up);
  target
    .set(Math.sin(bearing) * level, Math.sin(up), -Math.cos(bearing) * level)
    .multiplyScalar(AHEAD)
    .add(camera.position);
  camera.lookAt(target);
}

import * as THREE from "three";

/** A step of the keyboard: radians round and up, and the share of the distance that it goes nearer or away. */
const STEP = { angle: THREE.MathUtils.degToRad(4), share: 0.08 };
/** No nearer to straight above, nor further below the level, radians from the upright. */
const LIMITS = { least: 0.02, most: Math.PI * 0.52 };

/** Where a camera is after so many steps round what it looks at, up, and away from it. */
export function orbited(
  position: THREE.Vector3,
  target: THREE.Vector3,
  [round, up, away]: readonly [number, number, number],
  times = 1,
): THREE.Vector3 {
  const at = new THREE.Spherical().setFromVector3(position.clone().sub(target));
  at.theta += round * times * STEP.angle;
  at.phi = Math.min(LIMITS.most, Math.max(LIMITS.least, at.phi - up * times * STEP.angle));
  at.radius *= (1 + STEP.share) ** (away * times);
  return new THREE.Vector3().setFromSpherical(at).add(target);
}

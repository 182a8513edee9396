import * as THREE from "three";

/** What a texture matrix does to clip space: from -1 … 1 to 0 … 1. */
const TO_TEXTURE = new THREE.Matrix4().set(0.5, 0, 0, 0.5, 0, 0.5, 0, 0.5, 0, 0, 0.5, 0.5, 0, 0, 0, 1);
const FLIPPED = new THREE.Matrix4().makeScale(-1, 1, 1);
/** Of the way to the horizon, how far what is mirrored is taken into account at least: looking straight down, nothing is. */
const LEAST = 0.05;

/** A camera that sees what a level plane mirrors, and where on its picture a place of the world lies. */
export interface Mirror {
  camera: THREE.PerspectiveCamera;
  toTexture: THREE.Matrix4;
}

/** A mirror that nothing is set for yet. */
export function newMirror(): Mirror {
  const camera = new THREE.PerspectiveCamera();
  // The renderer would take the camera's own lens in place of the one that is set here.
  camera.updateProjectionMatrix = () => undefined;
  return { camera, toTexture: new THREE.Matrix4() };
}

/**
 * Set a mirror for a camera and a level: its own camera is as deep below as the other is above, and its picture is flipped from left to right. Nothing that
 * lies below the level is drawn, as the level is its near plane (after Lengyel, "Oblique View Frustum Depth Projection and Clipping", 2005).
 */
export function setMirror(
  { camera, toTexture }: Mirror,
  seen: THREE.PerspectiveCamera,
  level: number,
  reversed: boolean,
) {
  const about = new THREE.Matrix4().set(1, 0, 0, 0, 0, -1, 0, 2 * level, 0, 0, 1, 0, 0, 0, 0, 1);
  new THREE.Matrix4()
    .multiplyMatrices(about, seen.matrixWorld)
    .multiply(FLIPPED)
    .decompose(camera.position, camera.quaternion, camera.scale);
  [camera.near, camera.far, camera.fov] = [seen.near, seen.far, seen.fov];
  camera.updateMatrixWorld(true);
  camera.projectionMatrix.copy(seen.projectionMatrix);
  camera.projectionMatrix.elements[8] *= -1;
  toTexture.multiplyMatrices(TO_TEXTURE, camera.projectionMatrix).multiply(camera.matrixWorldInverse);
  clipBelow(camera, level, reversed);
  camera.projectionMatrixInverse.copy(camera.projectionMatrix).invert();
}

/** Make a level the near plane of a camera below it; depth then goes to the farthest that its picture can show. */
function clipBelow({ projectionMatrix, matrixWorld }: THREE.Camera, level: number, reversed: boolean) {
  const p = projectionMatrix.elements;
  const m = matrixWorld.elements;
  // The plane as the camera has it: its normal is a row of what places the camera.
  const [x, y, z, away] = [m[1], m[5], m[9], m[13] - level];
  const most = (Math.abs(x) * (1 + Math.abs(p[8]))) / p[0] + (Math.abs(y) * (1 + Math.abs(p[9]))) / p[5] - z;
  const share = (reversed ? -1 : 2) / Math.max(most, LEAST);
  [p[2], p[6], p[10], p[14]] = [share * x, share * y, share * z + (reversed ? -1 : 1), share * away];
}

import * as THREE from "three";

/** The layer of what is drawn over the picture and is no part of it. */
const OVERLAY = 1;

/** Put something and all that hangs on it over the picture: handles, outlines, marks. Air and tone mapping leave it alone. */
export function overlaid<Thing extends THREE.Object3D>(object: Thing): Thing {
  object.traverse((one) => one.layers.set(OVERLAY));
  return object;
}

/** A caster that finds what lies over the picture. */
export function overlayCaster(): THREE.Raycaster {
  const caster = new THREE.Raycaster();
  caster.layers.set(OVERLAY);
  return caster;
}

/** Draw what lies over the picture. */
export function drawOverlay(gl: THREE.WebGLRenderer, scene: THREE.Scene, camera: THREE.Camera) {
  const { background } = scene;
  const { mask } = camera.layers;
  const { autoClear } = gl;
  scene.background = null;
  gl.autoClear = false;
  camera.layers.set(OVERLAY);
  gl.render(scene, camera);
  camera.layers.mask = mask;
  gl.autoClear = autoClear;
  scene.background = background;
}

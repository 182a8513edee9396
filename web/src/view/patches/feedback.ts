import * as THREE from "three";
import type { Layout } from "./layout";
import { NUMBERS, type Seen } from "./wanted";

/** A surface that is drawn, for asking what of it is seen. */
export interface Drawn extends Seen {
  mesh: THREE.Mesh;
}

/** How much smaller than the picture the one is that is asked: patches are wide. */
const SMALLER = 4;

const VERTEX = `
varying vec2 vPlace;
void main() {
  vPlace = uv;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`;
const FRAGMENT = `
uniform float number;
uniform vec2 cells;
uniform float smaller;
uniform float anisotropy;
varying vec2 vPlace;
void main() {
  vec2 across = dFdx(vPlace * cells) / smaller, down = dFdy(vPlace * cells) / smaller;
  float longest = max(max(length(across), length(down)), 1e-9);
  float wide = max(abs(across.x * down.y - across.y * down.x) / longest, longest / anisotropy);
  gl_FragColor = vec4(number, vPlace, -log2(wide));
}`;

/**
 * Which places of which surfaces are seen, and at which level a texel of them is a pixel: drawn small, with numbers for colours, so
 * that what is hidden is not asked for. Four numbers a place, as `wantedIn` reads them.
 */
export async function placesSeen(
  gl: THREE.WebGLRenderer,
  camera: THREE.Camera,
  surfaces: Drawn[],
  anisotropy: number,
): Promise<Float32Array> {
  const width = Math.max(1, Math.round(gl.domElement.width / SMALLER));
  const height = Math.max(1, Math.round(gl.domElement.height / SMALLER));
  const target = new THREE.WebGLRenderTarget(width, height, {
    type: THREE.FloatType,
    minFilter: THREE.NearestFilter,
    magFilter: THREE.NearestFilter,
  });
  const scene = new THREE.Scene();
  const materials = surfaces.map(({ mesh, layout }, row) => {
    const material = materialOf(row + 1, layout, anisotropy);
    const copy = new THREE.Mesh(mesh.geometry, material);
    copy.matrixAutoUpdate = false;
    copy.matrix.copy(mesh.matrixWorld);
    scene.add(copy);
    return material;
  });
  const out = new Float32Array(width * height * NUMBERS);
  const colour = gl.getClearColor(new THREE.Color());
  const alpha = gl.getClearAlpha();
  const before = gl.getRenderTarget();
  try {
    gl.setClearColor(0, 0);
    gl.setRenderTarget(target);
    gl.clear();
    gl.render(scene, camera);
    gl.setRenderTarget(before);
    gl.setClearColor(colour, alpha);
    await gl.readRenderTargetPixelsAsync(target, 0, 0, width, height, out);
  } finally {
    materials.forEach((material) => material.dispose());
    target.dispose();
  }
  return out;
}

function materialOf(number: number, layout: Layout, anisotropy: number): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    uniforms: {
      number: { value: number },
      cells: { value: new THREE.Vector2(layout.columns, layout.rows) },
      smaller: { value: SMALLER },
      anisotropy: { value: anisotropy },
    },
    vertexShader: VERTEX,
    fragmentShader: FRAGMENT,
  });
}

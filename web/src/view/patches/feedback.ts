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
 * Tells which places of which surfaces are seen, and at which level a texel of them is a pixel: they are drawn small, with numbers for colours,
 * so that what is hidden is not asked for. What it draws with is kept: a graphics card would make its program anew at each rest.
 */
export class Feedback {
  private readonly target = new THREE.WebGLRenderTarget(1, 1, {
    type: THREE.FloatType,
    minFilter: THREE.NearestFilter,
    magFilter: THREE.NearestFilter,
  });
  private readonly materials: THREE.ShaderMaterial[] = [];

  constructor(
    private gl: THREE.WebGLRenderer,
    private anisotropy: number,
  ) {}

  dispose() {
    this.target.dispose();
    this.materials.forEach((material) => material.dispose());
  }

  /** Four numbers a place, as `wantedIn` reads them. */
  async places(camera: THREE.Camera, surfaces: Drawn[]): Promise<Float32Array> {
    const { gl, target } = this;
    const width = Math.max(1, Math.round(gl.domElement.width / SMALLER));
    const height = Math.max(1, Math.round(gl.domElement.height / SMALLER));
    target.setSize(width, height);
    const scene = new THREE.Scene();
    surfaces.forEach(({ mesh, layout }, row) => {
      const copy = new THREE.Mesh(mesh.geometry, this.material(row, layout));
      copy.matrixAutoUpdate = false;
      copy.matrix.copy(mesh.matrixWorld);
      scene.add(copy);
    });
    const out = new Float32Array(width * height * NUMBERS);
    const colour = gl.getClearColor(new THREE.Color());
    const alpha = gl.getClearAlpha();
    const before = gl.getRenderTarget();
    gl.setClearColor(0, 0);
    gl.setRenderTarget(target);
    gl.clear();
    gl.render(scene, camera);
    gl.setRenderTarget(before);
    gl.setClearColor(colour, alpha);
    await gl.readRenderTargetPixelsAsync(target, 0, 0, width, height, out);
    return out;
  }

  private material(row: number, { columns, rows }: Layout): THREE.ShaderMaterial {
    const made = (this.materials[row] ??= new THREE.ShaderMaterial({
      uniforms: {
        number: { value: row + 1 },
        cells: { value: new THREE.Vector2() },
        smaller: { value: SMALLER },
        anisotropy: { value: this.anisotropy },
      },
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
    }));
    (made.uniforms.cells.value as THREE.Vector2).set(columns, rows);
    return made;
  }
}

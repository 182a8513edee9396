import * as THREE from "three";
import { drawnByProcessor } from "../../site/machine";
import type { Uniforms } from "../uniforms";
import type { Body } from "./body";
import { type Mirror, newMirror, setMirror } from "./mirror";

/** The layer of water that light makes: it is drawn over the picture of all the rest. */
const WATER = 2;
/** Levels of water that mirror what stands beside them at once, nearest first: each draws all once more. */
const MIRRORS = 2;
/** How much of a pixel a drop has to cover to be drawn. */
const SEEN = 0.6;
/** Pixels of a mirror's picture along a side, against the view's. */
const SHARPNESS = drawnByProcessor ? 0.5 : 1;

/** Put a mesh among what is drawn as water. */
export function asBody(mesh: THREE.Mesh) {
  mesh.layers.set(WATER);
}

/** Put a mesh among the drops that lie on things: they are drawn with the water. */
export const asDrop = (mesh: THREE.Mesh) => mesh.layers.set(WATER);

const copyVertex = "varying vec2 at;\nvoid main() {\n  at = uv;\n  gl_Position = vec4(position.xy, 0.0, 1.0);\n}";
const copyFragment = `
varying vec2 at;
uniform sampler2D picture;
uniform highp sampler2D depths;
uniform mat4 unprojected;
uniform vec3 viewer;
uniform bool reversed;
void main() {
  float deep = texture2D(depths, at).r;
  vec4 place = unprojected * vec4(at * 2.0 - 1.0, reversed ? max(deep, 1e-7) : deep * 2.0 - 1.0, 1.0);
  gl_FragColor = vec4(min(texture2D(picture, at).rgb, 6e4), min(length(place.xyz / place.w - viewer), 6e4));
}`;

/** A mirror's picture, and what it was drawn for. */
interface Picture extends Mirror {
  target: THREE.WebGLRenderTarget;
  seenFrom: string;
}

/** Draws water over a picture of all that stands about it. */
export class Waters {
  private readonly frustum = new THREE.Frustum();
  private readonly pictures: Picture[] = [];
  private readonly camera = new THREE.OrthographicCamera(-1, 1, 1, -1, 0, 1);
  private readonly scene = new THREE.Scene();
  private behind: THREE.WebGLRenderTarget | null = null;
  private sheet: THREE.ShaderMaterial | null = null;

  /**
   * The bodies of water that a camera sees, the nearest first. To be asked before the picture is drawn: where there are any, what drifts through the air is
   * drawn after them.
   */
  inSight({ water: { bodies, drifting } }: Uniforms, camera: THREE.Camera): Body[] {
    const found = bodies.size ? this.seenOf(bodies, camera) : [];
    for (const one of drifting) one.layers.set(found.length ? WATER : 0);
    return found;
  }

  private seenOf(bodies: Set<Body>, camera: THREE.Camera): Body[] {
    this.frustum.setFromProjectionMatrix(
      new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
      camera.coordinateSystem,
      camera.reversedDepth,
    );
    const eye = new THREE.Vector3().setFromMatrixPosition(camera.matrixWorld);
    const box = new THREE.Box3();
    const away = ({ mesh }: Body) => box.setFromObject(mesh).distanceToPoint(eye);
    return [...bodies]
      .filter(({ mesh, level }) => eye.y > level && this.frustum.intersectsBox(box.setFromObject(mesh)))
      .sort((one, other) => away(one) - away(other));
  }

  /**
   * Draw the water in sight over what was drawn before.
   *
   * @param bodies The water that was in sight.
   * @param picture The light of all the rest, with its depth; water is added to it.
   * @param anew Whether mirrors may be drawn anew; where they are not, one that was drawn for another place is not shown.
   */
  draw(
    gl: THREE.WebGLRenderer,
    scene: THREE.Scene,
    camera: THREE.Camera,
    picture: THREE.WebGLRenderTarget,
    { water }: Uniforms,
    bodies: Body[],
    anew: boolean,
  ) {
    if (!(camera instanceof THREE.PerspectiveCamera) || (!bodies.length && !water.drops.size)) return;
    if (!this.leaveOut(camera, picture.height, water.drops) && !bodies.length) return;
    const levels = [...new Set(bodies.map(({ level }) => level))];
    levels.forEach((level, row) => this.mirror(gl, scene, camera, picture, bodies, level, row, anew));
    this.copy(gl, camera, picture, water);
    const { mask } = camera.layers;
    const { background } = scene;
    const { autoClear } = gl;
    // A light of another layer than the camera's would light nothing.
    scene.traverseVisible((one) => one instanceof THREE.Light && one.layers.enable(WATER));
    camera.layers.set(WATER);
    scene.background = null;
    gl.autoClear = false;
    gl.setRenderTarget(picture);
    gl.render(scene, camera);
    camera.layers.mask = mask;
    scene.background = background;
    gl.autoClear = autoClear;
  }

  /** Leave out drops of which the widest is less than a pixel: nobody would see them. Returns whether any are left. */
  private leaveOut(camera: THREE.PerspectiveCamera, rows: number, drops: Uniforms["water"]["drops"]): boolean {
    const eye = new THREE.Vector3().setFromMatrixPosition(camera.matrixWorld);
    // Metres that a pixel is high, a metre away.
    const pixel = 2 / (camera.projectionMatrix.elements[5] * rows);
    let shown = false;
    for (const [mesh, widest] of drops) {
      const { center, radius } = mesh.geometry.boundingSphere!;
      const away = Math.max(center.distanceTo(eye) - radius, 1e-3);
      mesh.visible = widest > SEEN * pixel * away;
      shown ||= mesh.visible;
    }
    return shown;
  }

  private mirror(
    gl: THREE.WebGLRenderer,
    scene: THREE.Scene,
    camera: THREE.PerspectiveCamera,
    { width, height }: THREE.WebGLRenderTarget,
    bodies: Body[],
    level: number,
    row: number,
    anew: boolean,
  ) {
    const mine = bodies.filter((one) => one.level === level);
    const seenFrom = `${level} ${camera.matrixWorld.elements.join()} ${camera.projectionMatrix.elements.join()}`;
    let found = this.pictures.find((one) => one.seenFrom === seenFrom) ?? null;
    if (anew && row < MIRRORS) {
      found = this.pictures[row] ??= { ...newMirror(), target: mirrorTarget(), seenFrom: "" };
      found.target.setSize(Math.ceil(width * SHARPNESS), Math.ceil(height * SHARPNESS));
      setMirror(found, camera, level, gl.capabilities.reversedDepthBuffer);
      found.seenFrom = seenFrom;
      gl.setRenderTarget(found.target);
      gl.render(scene, found.camera);
    }
    for (const { mirrored } of mine) {
      mirrored.mirrors.value = found ? 1 : 0;
      mirrored.mirror.value = found?.target.texture ?? null;
      if (found) mirrored.toMirror.value.copy(found.toTexture);
    }
  }

  /** What lies behind the water, as light and how far away it is: what is drawn to cannot be read. */
  private copy(
    gl: THREE.WebGLRenderer,
    camera: THREE.Camera,
    picture: THREE.WebGLRenderTarget,
    { shared }: Uniforms["water"],
  ) {
    const { width, height } = picture;
    this.behind ??= new THREE.WebGLRenderTarget(width, height, { type: THREE.HalfFloatType, depthBuffer: false });
    this.behind.setSize(width, height);
    const { uniforms } = (this.sheet ??= this.made(gl));
    uniforms.picture.value = picture.texture;
    uniforms.depths.value = picture.depthTexture;
    (uniforms.unprojected.value as THREE.Matrix4)
      .multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse)
      .invert();
    (uniforms.viewer.value as THREE.Vector3).setFromMatrixPosition(camera.matrixWorld);
    gl.setRenderTarget(this.behind);
    gl.render(this.scene, this.camera);
    shared.behind.value = this.behind.texture;
    shared.pixels.value.set(width, height);
  }

  private made(gl: THREE.WebGLRenderer): THREE.ShaderMaterial {
    const material = new THREE.ShaderMaterial({
      uniforms: {
        picture: { value: null },
        depths: { value: null },
        unprojected: { value: new THREE.Matrix4() },
        viewer: { value: new THREE.Vector3() },
        reversed: { value: gl.capabilities.reversedDepthBuffer },
      },
      vertexShader: copyVertex,
      fragmentShader: copyFragment,
      depthTest: false,
      depthWrite: false,
    });
    const sheet = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), material);
    sheet.frustumCulled = false;
    this.scene.add(sheet);
    return material;
  }
}

const mirrorTarget = () =>
  new THREE.WebGLRenderTarget(1, 1, { type: THREE.HalfFloatType, samples: drawnByProcessor ? 0 : 2 });

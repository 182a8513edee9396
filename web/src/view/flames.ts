import * as THREE from "three";
import type { BeamsState } from "../api/client";
import { fragment, quads, seeds } from "./drifting";
import type { Uniforms } from "./uniforms";

export type Flame = NonNullable<BeamsState["beams"][number]["flame"]>;

/** Sprites of a flame (core/cenote/light/flames.py has the same numbers), and as bright as one is shown. */
const MANY = 200;
const BRIGHTEST = 2.4;

const vertex = `
attribute vec4 seed;
uniform float wide;
uniform float tall;
uniform vec3 stops[3];
uniform vec2 windWay;
uniform float windStrength;
uniform float time;
uniform vec2 pixels;
varying float cover;
varying float soft;
varying vec2 across;
varying vec3 colour;
void main() {
  float life = 0.6 * sqrt(tall) * (0.7 + 0.6 * seed.y);
  float age = fract(time / life + seed.w);
  float reach = wide / 2.0 * sqrt(seed.z) * pow(1.0 - age, 0.8);
  vec2 blown = 0.15 * life * age * age * windWay * windStrength;
  vec2 licks = 0.22 * wide * age * vec2(sin(time * 5.0 + seed.y * 40.0), cos(time * 4.0 + seed.y * 60.0));
  vec2 level = reach * vec2(cos(6.2831853 * seed.x), sin(6.2831853 * seed.x)) + licks + blown;
  // What burns at the edge does not rise as high.
  vec3 place = vec3(level.x, tall * (1.15 - 0.6 * seed.z) * age, level.y);
  float size = wide * 0.36 * pow(1.0 - age, 0.7) * (0.6 + 0.8 * seed.x) + 0.01;
  vec4 at = projectionMatrix * viewMatrix * vec4(place + modelMatrix[3].xyz, 1.0);
  float seen = size * projectionMatrix[1][1] / max(at.w, 0.05) * pixels.y / 2.0;
  float drawn = max(seen, 1.2);
  cover = 0.42 * min(age * 8.0, 1.0) * sqrt(1.0 - age) * seen / drawn;
  soft = 0.0;
  across = vec2(position.x * 2.0, position.y * 2.0 - 1.0);
  colour = age < 0.45 ? mix(stops[0], stops[1], age / 0.45) : mix(stops[1], stops[2], (age - 0.45) / 0.55);
  vec2 side = vec2(position.x, (position.y - 0.5) * 1.9) * drawn;
  gl_Position = at + vec4(side * 2.0 / pixels * at.w, 0.0, 0.0);
}`;

/** The light of a flame's foot, middle and tips, as shown. */
export function stopsOf({ radiance }: Flame, scale: number): THREE.Vector3[] {
  const most = Math.max(...radiance.flat());
  return radiance.map((one) => new THREE.Vector3(...one).multiplyScalar(Math.min(scale, BRIGHTEST / (most || 1))));
}

/** How much of its light a fire gives at a time, seconds: 1 on the mean, never far from it, and the same a second time only by chance. */
export const flicker = (time: number) =>
  1 + 0.07 * (Math.sin(time * 9.1) + Math.sin(time * 13.7 + 1.3) + Math.sin(time * 23.3 + 4));

/** A flame that burns where it is put: it moves with the time of the wind, and leans with it. */
export function flameMesh(flame: Flame, scale: number, { wind }: Uniforms): THREE.Mesh {
  const geometry = quads(seeds(MANY));
  const pixels = new THREE.Vector2();
  const material = new THREE.ShaderMaterial({
    uniforms: {
      wide: { value: flame.wide },
      tall: { value: flame.tall },
      stops: { value: stopsOf(flame, scale) },
      windWay: wind.windWay,
      windStrength: wind.windStrength,
      time: wind.windTime,
      pixels: { value: pixels },
    },
    vertexShader: vertex,
    fragmentShader: fragment,
    transparent: true,
    depthWrite: false,
    side: THREE.DoubleSide,
  });
  const mesh = new THREE.Mesh(geometry, material);
  // What the wind leans leaves any box that stands by the fire alone.
  mesh.frustumCulled = false;
  mesh.raycast = () => undefined;
  mesh.renderOrder = 1999;
  mesh.onBeforeRender = (gl) => void gl.getDrawingBufferSize(pixels);
  return mesh;
}

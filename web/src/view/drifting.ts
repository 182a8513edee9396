import * as THREE from "three";
import type { Drift } from "../api/daylight";
import type { Pack } from "../api/pack";
import { drawnByProcessor } from "../site/machine";
import type { Uniforms } from "./uniforms";

/** Where rain is kept off, as the server tells it. */
export interface ShelterMeta {
  low: number[];
  cell: number;
  source: number[];
}

/** How many are drawn at most; each stands for several where more would fall. */
const MOST = drawnByProcessor ? 9_000 : 60_000;
/** How much of what is behind it one hides at most where it stands for others. */
const HIDES_MOST = 0.85;

const vertex = `
attribute vec4 seed;
uniform vec3 velocity;
uniform vec3 source;
uniform float about;
uniform float shutter;
uniform float wide;
uniform float lengthy;
uniform float sways;
uniform float turns;
uniform float hides;
uniform bool sheltered;
uniform vec3 colours[3];
uniform float time;
uniform vec2 pixels;
uniform sampler2D tops;
uniform vec2 topsLow;
uniform vec2 topsLong;
varying float cover;
varying float soft;
varying vec2 across;
varying vec3 colour;
void main() {
  vec3 ahead = -vec3(viewMatrix[0][2], viewMatrix[1][2], viewMatrix[2][2]);
  vec3 corner = cameraPosition + ahead * about * 0.45 - about / 2.0;
  // What leaves the cube on one side comes in again on the other.
  vec3 place = corner + mod(seed.xyz * about + velocity * time - corner, about);
  place.xz += sways * vec2(sin(time * 1.7 + seed.w * 40.0), cos(time * 1.3 + seed.w * 70.0));
  // Where the drop passes height 0 the map tells above what height it falls freely.
  vec2 spot = (place.xz - source.xz / source.y * place.y - topsLow) / topsLong;
  bool free = !sheltered || any(lessThan(spot, vec2(0.0))) || any(greaterThan(spot, vec2(1.0))) || place.y > texture2D(tops, spot).r;
  float size = wide * (0.6 + 0.8 * seed.w);
  vec4 head = projectionMatrix * viewMatrix * vec4(place, 1.0);
  vec4 tail = projectionMatrix * viewMatrix * vec4(place - velocity * shutter, 1.0);
  if (!free || head.w < 0.3 || tail.w < 0.3) {
    gl_Position = vec4(0.0, 0.0, -9.0, 1.0);
    return;
  }
  vec2 along = (head.xy / head.w - tail.xy / tail.w) * pixels;
  along = length(along) > 0.01 ? normalize(along) : vec2(0.0, 1.0);
  float seen = size * projectionMatrix[1][1] / head.w * pixels.y / 2.0;
  float narrow = 1.0;
  if (turns > 0.0) {
    narrow = max(abs(cos(6.2831853 * turns * time * (0.5 + seed.w) + seed.w * 100.0)), 0.2);
    along = vec2(cos(seed.w * 70.0), sin(seed.w * 70.0));
  }
  // Narrower than a pixel it is drawn as wide as one, and hides as much less.
  float drawn = max(seen * narrow, 1.2), longer = max(seen * lengthy, 1.2);
  cover = hides * min(seen * narrow / drawn, 1.0);
  soft = turns > 0.0 ? 2.0 / drawn : 0.0;
  across = vec2(position.x * 2.0, position.y * 2.0 - 1.0);
  colour = colours[int(mod(floor(seed.w * 997.0), 3.0))];
  vec4 at = mix(tail, head, position.y);
  vec2 side = vec2(-along.y, along.x) * position.x * drawn + along * (position.y - 0.5) * longer;
  gl_Position = at + vec4(side * 2.0 / pixels * at.w, 0.0, 0.0);
}`;

export const fragment = `
varying float cover;
varying float soft;
varying vec2 across;
varying vec3 colour;
void main() {
  float share = 1.0 - smoothstep(0.4, 1.0, length(across * vec2(1.0, 0.9)));
  // A leaf's outline, a pixel soft.
  if (soft > 0.0) share = clamp((1.0 - across.y * across.y - abs(across.x)) / soft + 0.5, 0.0, 1.0);
  gl_FragColor = vec4(colour, cover * share);
}`;

/** As many as are drawn of a kind. */
export const drawnOf = ({ number, about }: Drift) => Math.round(Math.min(MOST, number * about ** 3));

/** Places of so many, in a cube of side 1, and a number of their own; the same each time (R4 sequence, Roberts 2018). */
export function seeds(count: number): Float32Array {
  const ratio = 1.1673039782614187;
  const steps = [1, 2, 3, 4].map((power) => 1 / ratio ** power);
  const out = new Float32Array(count * 4);
  for (let i = 0; i < count; i++) steps.forEach((step, k) => (out[i * 4 + k] = (0.5 + (i + 1) * step) % 1));
  return out;
}

/** Heights above which it falls freely, as a texture. */
function topsOf({ arrays }: Pack<ShelterMeta>): THREE.DataTexture {
  const { data, shape } = arrays.tops;
  const texture = new THREE.DataTexture(data as Float32Array, shape[1], shape[0], THREE.RedFormat, THREE.FloatType);
  texture.needsUpdate = true;
  return texture;
}

/** As many upright quads as there are seeds, four numbers each. */
export function quads(seed: Float32Array): THREE.InstancedBufferGeometry {
  const geometry = new THREE.InstancedBufferGeometry();
  geometry.setAttribute(
    "position",
    new THREE.BufferAttribute(new Float32Array([-0.5, 0, 0, 0.5, 0, 0, 0.5, 1, 0, -0.5, 1, 0]), 3),
  );
  geometry.setIndex([0, 1, 2, 0, 2, 3]);
  geometry.setAttribute("seed", new THREE.InstancedBufferAttribute(seed, 4));
  geometry.instanceCount = seed.length / 4;
  return geometry;
}

/** What drifts about the eye: it moves with the time of the wind, and is not where it is kept off. */
export function driftingMesh(drift: Drift, shelter: Pack<ShelterMeta>, { wind }: Uniforms): THREE.Mesh {
  const count = drawnOf(drift);
  const geometry = quads(seeds(count));
  const { low, cell, source } = shelter.meta;
  const tops = topsOf(shelter);
  const [x, y, z] = source;
  const { carried, falls, number, about, hides } = drift;
  const standsFor = Math.max(1, (number * about ** 3) / Math.max(count, 1));
  const [rows, columns] = shelter.arrays.tops.shape;
  const pixels = new THREE.Vector2();
  const material = new THREE.ShaderMaterial({
    uniforms: {
      velocity: { value: new THREE.Vector3((-x / y) * carried, -falls, (-z / y) * carried) },
      source: { value: new THREE.Vector3(x, y, z) },
      about: { value: about },
      shutter: { value: drift.shutter },
      wide: { value: drift.wide },
      lengthy: { value: drift.long },
      sways: { value: drift.sways },
      turns: { value: drift.turns },
      hides: { value: standsFor > 1 ? Math.min(HIDES_MOST, hides * standsFor ** 0.25) : hides },
      sheltered: { value: drift.sheltered },
      colours: { value: drift.colours.map((colour) => new THREE.Vector3(...colour)) },
      time: wind.windTime,
      pixels: { value: pixels },
      tops: { value: tops },
      topsLow: { value: new THREE.Vector2(low[0], low[1]) },
      topsLong: { value: new THREE.Vector2((columns - 1) * cell, (rows - 1) * cell) },
    },
    vertexShader: vertex,
    fragmentShader: fragment,
    transparent: true,
    depthWrite: false,
    side: THREE.DoubleSide,
  });
  material.addEventListener("dispose", () => tops.dispose());
  const mesh = new THREE.Mesh(geometry, material);
  mesh.frustumCulled = false;
  mesh.raycast = () => undefined;
  mesh.renderOrder = 2000;
  mesh.onBeforeRender = (gl) => void gl.getDrawingBufferSize(pixels);
  return mesh;
}

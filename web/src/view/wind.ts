import * as THREE from "three";
import type { SceneManifest } from "../api/client";
import { type Uniforms, WAVES } from "./uniforms";

export type Wind = SceneManifest["wind"];

/** Let all that sways in a view meet this wind. */
export function setWind({ wind: of }: Uniforms, wind: Wind) {
  of.windWay.value.fromArray(wind.way);
  of.windStrength.value = wind.strength;
  of.windMost.value = wind.most;
  of.gustWaves.value.forEach((wave, k) => {
    const [x, z, rate, phase, share] = wind.waves[k] ?? [0, 0, 0, 0, 0];
    wave.set(x, z, rate, phase);
    of.gustShares.value[k] = share;
  });
}

/** What bends things in the wind: how far the top of something leans that meets its own weight at a speed of wind. */
export const WIND = `
uniform vec2 windWay;
uniform float windStrength;
uniform float windTime;
uniform float windMost;
uniform vec4 gustWaves[${WAVES}];
uniform float gustShares[${WAVES}];
float windLean(vec2 foot, float stiffness) {
  float gust = 1.0;
  for (int k = 0; k < ${WAVES}; k++)
    gust += gustShares[k] * sin(dot(gustWaves[k].xy, foot) - gustWaves[k].z * windTime + gustWaves[k].w);
  float drag = windStrength * gust / stiffness;
  return min(atan(drag * drag), windMost);
}
// The bend of the core's wind: an arc from the foot to the top, and straight on above it.
vec3 windBent(vec3 at, float height, float lean) {
  float low = clamp(at.y, 0.0, height);
  float turn = lean * low / height;
  float up = turn > 1e-4 ? low * sin(turn) / turn : low;
  float reach = turn > 1e-4 ? low * (1.0 - cos(turn)) / turn : 0.5 * low * turn;
  float along = dot(at.xz, windWay);
  float beyond = at.y - low;
  float across = reach + beyond * sin(turn) + along * (cos(turn) - 1.0);
  return vec3(at.x + windWay.x * across, up + beyond * cos(turn) - along * sin(turn), at.z + windWay.y * across);
}
`;
const DECLARED = `${WIND}\nuniform vec2 swayOf;\n`;

const BENT = `
#include <begin_vertex>
#ifdef USE_INSTANCING
{
  mat3 turned = mat3(instanceMatrix);
  float scale = length(turned[0]);
  vec3 at = windBent(turned * transformed, swayOf.y * scale, windLean(instanceMatrix[3].xz, swayOf.x));
  transformed = (at * turned) / (scale * scale);
}
#endif
`;

/** Let copies drawn with a material sway in a view's wind; what it did to its shader before stays. */
export function swaying<Made extends THREE.Material>(
  material: Made,
  { wind }: Uniforms,
  stiffness: number,
  height: number,
): Made {
  const before = material.onBeforeCompile.bind(material);
  const own = { swayOf: { value: new THREE.Vector2(stiffness, height) } };
  material.userData.sway = own.swayOf.value;
  const name = `sways ${material.onBeforeCompile.toString()}`;
  material.onBeforeCompile = (shader, renderer) => {
    before(shader, renderer);
    Object.assign(shader.uniforms, wind, own);
    shader.vertexShader = DECLARED + shader.vertexShader.replace("#include <begin_vertex>", BENT);
  };
  material.customProgramCacheKey = () => name;
  return material;
}

/** Let what sways already stand otherwise in the wind: the wind at which it leans by 45°, m/s. */
export function setStiffness(material: THREE.Material | undefined, stiffness: number | null) {
  const sway = material?.userData.sway as THREE.Vector2 | undefined;
  if (sway && stiffness !== null) sway.x = stiffness;
}

/** What the shadows of swaying copies are drawn with, so that they sway along. */
export function swayingDepth(uniforms: Uniforms, stiffness: number, height: number): THREE.Material {
  return swaying(new THREE.MeshDepthMaterial(), uniforms, stiffness, height);
}

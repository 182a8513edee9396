import * as THREE from "three";
import type { SceneManifest } from "../api/client";
import { COATS, type Uniforms } from "./uniforms";

export type Coat = SceneManifest["coats"][number];

/** Size of the clumps that coats break up into, metres. */
const CLUMP = "0.035";
/** How far clumps change what looks up: what bends lets go of much that lies on it, in patches. */
export const BREAKS = { solid: 0.9, grows: 2.2 };
const ALL = [...Array(COATS).keys()];

/** Let all coated items of a view show these covers. */
export function setCoats({ coats: of }: Uniforms, coats: Coat[]) {
  const column = (told: (coat: Coat) => number) => ALL.map((k) => (coats[k] ? told(coats[k]) : 0));
  of.coatStrength.value.fromArray(column((coat) => coat.strength));
  of.coatOpacity.value.fromArray(column((coat) => coat.opacity));
  of.coatSoak.value.fromArray(column((coat) => coat.soak));
  of.coatAbove.value.fromArray(column((coat) => coat.above));
  of.coatColours.value.forEach((colour, k) => colour.fromArray(coats[k]?.colour ?? [0, 0, 0]));
}

/** Whether any cover is seen on items. */
export function anyCoat(coats: Coat[]): boolean {
  return coats.some((coat) => coat.strength > 0);
}

const VERTEX = `
attribute vec4 coat;
varying vec4 vCoat;
varying float vUp;
varying vec2 vPlace;
`;
const SET = `
#include <begin_vertex>
vCoat = coat;
#ifdef USE_INSTANCING
  vUp = normalize(mat3(instanceMatrix) * normal).y;
  vPlace = (instanceMatrix * vec4(transformed, 1.0)).xz;
#else
  vUp = normal.y;
  vPlace = transformed.xz;
#endif
`;
const FRAGMENT = `
uniform float partedAt;
uniform float coatHold;
uniform float coatBreaks;
uniform vec4 coatStrength;
uniform vec4 coatOpacity;
uniform vec4 coatSoak;
uniform vec4 coatAbove;
uniform vec3 coatColours[${COATS}];
varying vec4 vCoat;
varying float vUp;
varying vec2 vPlace;
float coatHash(vec2 at) {
  return fract(sin(dot(mod(at, 289.0), vec2(12.9898, 78.233))) * 43758.5453);
}
// Value noise about 0, so that no edge of snow or moss is a clean line.
float coatClumps(vec2 place) {
  vec2 at = place / ${CLUMP};
  vec2 cell = floor(at), t = fract(at);
  t = t * t * (3.0 - 2.0 * t);
  return mix(
    mix(coatHash(cell), coatHash(cell + vec2(1.0, 0.0)), t.x),
    mix(coatHash(cell + vec2(0.0, 1.0)), coatHash(cell + vec2(1.0, 1.0)), t.x),
    t.y
  ) - 0.5;
}
`;
// The more there is, the further it comes down from the top.
const LAID = `
#include <color_fragment>
float coatUp = vUp + coatBreaks * coatClumps(vPlace);
${ALL.map(
  (k) => `{
  float amount = min(vCoat[${k}] * coatStrength[${k}], 1.0);
  float over = smoothstep(0.75 - amount, 1.15 - 0.9 * amount, coatUp);
  float share = amount * mix(1.0, over * coatHold, coatAbove[${k}]) * step(partedAt, gl_FragCoord.x);
  diffuseColor.rgb *= 1.0 - 0.6 * coatSoak[${k}] * share;
  diffuseColor.rgb = mix(diffuseColor.rgb, coatColours[${k}], share * coatOpacity[${k}]);
}`,
).join("\n")}
`;

/**
 * Let copies drawn with a material be coated; what was done to its shader before stays.
 * A flat stand-in looks up nowhere and everywhere: it holds only a share of what lies on top of things.
 */
export function coated<Made extends THREE.Material>(
  material: Made,
  { partedAt, coats }: Uniforms,
  hold = 1,
  breaks = BREAKS.solid,
): Made {
  const before = material.onBeforeCompile.bind(material);
  const name = `coated ${material.customProgramCacheKey()}`;
  material.onBeforeCompile = (shader, renderer) => {
    before(shader, renderer);
    Object.assign(shader.uniforms, coats, { partedAt, coatHold: { value: hold }, coatBreaks: { value: breaks } });
    // What bends the vertex has taken the place of the marker, and holds it again.
    shader.vertexShader = VERTEX + shader.vertexShader.replace("#include <begin_vertex>", SET);
    shader.fragmentShader = FRAGMENT + shader.fragmentShader.replace("#include <color_fragment>", LAID);
  };
  material.customProgramCacheKey = () => name;
  return material;
}

/** A geometry with what it shares with another, and the masks of its own copies. */
export function withCoat(geometry: THREE.BufferGeometry, coat: THREE.InstancedBufferAttribute): THREE.BufferGeometry {
  const made = new THREE.BufferGeometry();
  for (const [name, attribute] of Object.entries(geometry.attributes)) made.setAttribute(name, attribute);
  made.setIndex(geometry.index);
  made.setAttribute("coat", coat);
  // The same list: leaves that fall are no longer drawn here either.
  made.groups = geometry.groups;
  made.boundingSphere = geometry.boundingSphere;
  return made;
}

/** Let go of such a geometry, and leave what it shared. */
export function disposeCoat(geometry: THREE.BufferGeometry) {
  for (const name of Object.keys(geometry.attributes)) if (name !== "coat") geometry.deleteAttribute(name);
  geometry.setIndex(null);
  geometry.dispose();
}

import * as THREE from "three";
import { declare, type Shader } from "../declare";
import type { Uniforms } from "../uniforms";
import type { Mirrored, Water } from "./body";
import type { Foam } from "./foam";
import { rippleTexture } from "./ripples";

/** Metres of a tile of ripples, and how steep a strong wind's are. */
const TILE = 1.7;
const STEEPEST = 0.055;
/** Wind at which ripples are so, metres a second, and how they go with it. */
const STRONG = 6;
const PACE = 0.12;
/** Metres to what is mirrored, as far as ripples move it about. */
const MIRRORED_AT = 7;

const code = `
uniform sampler2D behind;
uniform sampler2D mirror;
uniform sampler2D around;
uniform sampler2D ripples;
uniform mat4 toMirror;
uniform float mirrors;
uniform vec2 pixels;
uniform float clarity;
uniform vec2 windWay;
uniform float windStrength;
uniform float windTime;
uniform vec3 sunWay;
uniform sampler2D foam;
uniform vec2 foamLow;
uniform vec2 foamSize;
uniform vec3 foamColour;
uniform float foams;
varying vec3 vPlace;
// Three sheets of the same ripples, each of another size and way: no tile is recognised.
vec2 rippled(vec2 place) {
  vec2 drift = windWay * windTime * ${PACE.toFixed(2)};
  vec2 a = texture2D(ripples, (place - drift) / ${TILE.toFixed(2)}).rg;
  vec2 b = texture2D(ripples, mat2(0.8, 0.6, -0.6, 0.8) * (place - drift * 1.6) / ${(TILE * 2.7).toFixed(2)}).rg;
  vec2 c = texture2D(ripples, mat2(-0.28, 0.96, -0.96, -0.28) * (place + drift * 0.4) / ${(TILE * 0.61).toFixed(2)}).rg;
  return (a + vec2(0.8 * b.x - 0.6 * b.y, 0.6 * b.x + 0.8 * b.y) + 0.7 * vec2(-0.28 * c.x - 0.96 * c.y, 0.96 * c.x - 0.28 * c.y))
    * (0.12 + min(windStrength / ${STRONG.toFixed(1)}, 1.5)) * ${(STEEPEST / 1.6).toFixed(4)};
}
vec3 waved;
`;

const BENT = `
vec2 slope = rippled(vPlace.xz);
waved = normalize(vec3(-slope.x, 1.0, -slope.y));
normal = normalize((viewMatrix * vec4(waved, 0.0)).xyz);
`;

// Fresnel by Schlick's form (1994); what is seen through the water is dimmed by the way through it (Beer and Lambert), and the rest is the body's own light.
const SEEN = `
{
  vec2 at = gl_FragCoord.xy / pixels;
  vec3 way = vPlace - cameraPosition;
  float near = length(way);
  vec3 look = way / near;
  float far = texture2D(behind, at).a;
  float steep = max(-look.y, 0.02), bent = sqrt(1.0 - (1.0 - steep * steep) / 1.7689);
  float below = max(far - near, 0.0) * steep;
  // A slope turns what is below by a quarter of itself, the more it is moved the deeper it lies.
  vec2 turned = (viewMatrix * vec4(waved - vec3(0.0, 1.0, 0.0), 0.0)).xy * vec2(projectionMatrix[0][0], projectionMatrix[1][1]);
  vec2 other = clamp(at + turned * 0.5 * min(below / bent, 2.0) / max(far, 0.1), 0.5 / pixels, 1.0 - 0.5 / pixels);
  vec4 bed = texture2D(behind, other);
  if (bed.a < near) bed = vec4(texture2D(behind, at).rgb, far);
  below = max(bed.a - near, 0.0) * steep;
  float through = exp(-(below / bent + below) / clarity);
  vec3 floor_ = cameraPosition + look * bed.a;
  vec2 lit = floor_.xz + sunWay.xz / max(sunWay.y, 0.2) * below * 0.7;
  float bright = min(texture2D(ripples, lit / ${TILE.toFixed(2)}).b, texture2D(ripples, mat2(0.6, 0.8, -0.8, 0.6) * lit / ${(TILE * 1.37).toFixed(2)}).b);
  float caustic = smoothstep(0.0, 0.35, below) * smoothstep(0.0, 0.3, sunWay.y) * min(windStrength / 2.0, 1.0);
  vec3 refracted = bed.rgb * mix(1.0, 0.7 + 0.6 * bright, caustic);
  vec3 inside = mix(totalDiffuse, refracted, through);
  vec3 gone = reflect(look, waved);
  gone.y = max(gone.y, 0.01);
  vec3 mirrored = texture2D(around, vec2(atan(gone.z, gone.x) / ${(2 * Math.PI).toFixed(6)} + 0.5, asin(clamp(gone.y, -1.0, 1.0)) / ${Math.PI.toFixed(6)} + 0.5)).rgb;
  if (mirrors > 0.0) {
    vec4 there = toMirror * vec4(vPlace + gone * ${MIRRORED_AT.toFixed(1)}, 1.0);
    mirrored = texture2D(mirror, clamp(there.xy / there.w, 0.002, 0.998)).rgb;
  }
  float share = 0.02 + 0.98 * pow(1.0 - clamp(-dot(look, waved), 0.0, 1.0), 5.0);
  outgoingLight = mix(inside, mirrored, share) + reflectedLight.directSpecular * (mirrors > 0.0 ? 0.0 : 1.0);
  if (foams > 0.0) {
    // Ripples move it about a little; it sends on what comes to the water.
    vec2 spot = (vPlace.xz + 0.08 * waved.xz - foamLow) / foamSize;
    bool on = all(equal(spot, clamp(spot, 0.0, 1.0)));
    outgoingLight = mix(outgoingLight, totalDiffuse / max(diffuseColor.rgb, vec3(1e-3)) * foamColour, on ? texture2D(foam, spot).r * foams : 0.0);
  }
}
#include <opaque_fragment>
`;

/** The parts of the renderer's shader that water has its own of. */
export function asWater(shader: Shader) {
  shader.vertexShader = shader.vertexShader
    .replace("#include <common>", "#include <common>\nvarying vec3 vPlace;")
    .replace(
      "#include <project_vertex>",
      "#include <project_vertex>\nvPlace = (modelMatrix * vec4(transformed, 1.0)).xyz;",
    );
  declare(shader, code);
  shader.fragmentShader = shader.fragmentShader
    .replace("#include <normal_fragment_maps>", BENT)
    .replace("#include <opaque_fragment>", SEEN)
    // Where cards let it, the viewer's own matrix is the vertex shader's alone.
    .replace("#include <common>", "uniform mat4 projectionMatrix;\n#include <common>");
}

/** A level of water as light makes it: it needs the picture of what lies behind it, see `waters.ts`. */
export function waterMaterial(
  water: Water,
  { sky, air, wind, water: shared }: Uniforms,
  mirrored: Mirrored,
  foam: Foam,
): THREE.MeshStandardMaterial {
  const [r, g, b] = water.colour;
  const material = new THREE.MeshStandardMaterial({
    color: new THREE.Color().setRGB(r, g, b, THREE.LinearSRGBColorSpace),
    roughness: 0.08,
    metalness: 0,
  });
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, {
      ...mirrored,
      ...foam,
      ...shared.shared,
      clarity: { value: Math.max(water.clarity, 0.02) },
      ripples: { value: rippleTexture() },
      around: sky.around,
      sunWay: air.sunWay,
      windWay: wind.windWay,
      windStrength: wind.windStrength,
      windTime: wind.windTime,
    });
    asWater(shader);
  };
  material.customProgramCacheKey = () => "water";
  return material;
}

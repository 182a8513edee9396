import * as THREE from "three";
import type { AboveMeta, Disc } from "../api/daylight";
import type { Pack } from "../api/pack";
import { skyTexture } from "./daylight";

/** Sun and moon: more are never seen. */
const DISCS = 2;

const vertex = `
varying vec3 way;
uniform bool reversed;
void main() {
  way = position;
  gl_Position = projectionMatrix * mat4(mat3(viewMatrix)) * vec4(position, 1.0);
  // Behind all there is.
  gl_Position.z = reversed ? 0.0 : gl_Position.w;
}`;

// Between texels by cubic splines (Sigg and Hadwiger, "Fast Third-Order Texture Filtering", GPU Gems 2, 2005): a texel is some pixels wide.
const fragment = `
varying vec3 way;
uniform sampler2D dome;
uniform float brighter;
uniform vec2 texels;
uniform vec3 discWay[${DISCS}];
uniform vec3 discLight[${DISCS}];
uniform vec4 discLitFrom[${DISCS}];
uniform float discRadius[${DISCS}];
vec4 smoothly(vec2 at) {
  vec2 place = at * texels - 0.5, whole = floor(place), f = place - whole, f2 = f * f, f3 = f2 * f;
  vec2 w0 = (1.0 - f) * (1.0 - f) * (1.0 - f) / 6.0, w1 = (4.0 - 6.0 * f2 + 3.0 * f3) / 6.0, w3 = f3 / 6.0;
  vec2 w2 = 1.0 - w0 - w1 - w3, g0 = w0 + w1, g1 = w2 + w3;
  vec2 a = (whole - 0.5 + w1 / g0) / texels, b = (whole + 1.5 + w3 / g1) / texels;
  return g0.y * (g0.x * texture2D(dome, vec2(a.x, a.y)) + g1.x * texture2D(dome, vec2(b.x, a.y)))
    + g1.y * (g0.x * texture2D(dome, vec2(a.x, b.y)) + g1.x * texture2D(dome, vec2(b.x, b.y)));
}
void main() {
  vec3 look = normalize(way);
  // Rows go with the square root of the height; below the horizon the haze goes on.
  float up = sqrt(max(asin(clamp(look.y, -1.0, 1.0)), 0.0) / ${(Math.PI / 2).toFixed(6)});
  float round = atan(look.x, -look.z) / ${(2 * Math.PI).toFixed(6)};
  vec4 seen = smoothly(vec2(fract(round), max(up, 0.5 / texels.y)));
  vec3 colour = seen.rgb;
  for (int i = 0; i < ${DISCS}; i++) {
    if (discRadius[i] <= 0.0 || look.y < 0.0) continue;
    vec3 beside = look - discWay[i] * dot(look, discWay[i]);
    float away = length(beside) / discRadius[i], edge = max(fwidth(away), 1e-4);
    float inside = (1.0 - smoothstep(1.0 - edge, 1.0 + edge, away)) * seen.a;
    if (inside <= 0.0 || dot(look, discWay[i]) < 0.0) continue;
    float facing = sqrt(max(1.0 - min(away, 1.0) * min(away, 1.0), 0.0));
    // The sun is darker towards its limb; of the moon one sees what the sun shines on.
    vec3 normal = normalize(beside / discRadius[i] - discWay[i] * facing);
    float bright = discLitFrom[i].w > 0.0 ? smoothstep(-0.02, 0.06, dot(normal, discLitFrom[i].xyz)) : 0.4 + 0.6 * facing;
    colour += discLight[i] * bright * inside;
  }
  gl_FragColor = vec4(colour * brighter, 1.0);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}`;

/** Half floats of a dome as a texture: rows from the horizon up, round from north over east. */
export function domeTexture({ arrays }: Pack<AboveMeta>): THREE.DataTexture {
  const { data, shape } = arrays.dome;
  const [height, width] = shape;
  const halves = new Uint16Array(data.buffer, data.byteOffset, height * width * 4);
  return skyTexture(halves, width, height, THREE.HalfFloatType);
}

const vectors = (discs: Disc[], of: (disc: Disc) => number[] | null) =>
  Array.from({ length: DISCS }, (_, i) => new THREE.Vector3(...((discs[i] && of(discs[i])) ?? [0, 0, 0])));

/** What draws a sky behind all else. `brighter`: a uniform by which all of it is multiplied. */
export function domeMaterial(
  pack: Pack<AboveMeta>,
  reversed: boolean,
  brighter: THREE.IUniform<number>,
): THREE.ShaderMaterial {
  const { discs } = pack.meta;
  const texture = domeTexture(pack);
  const material = new THREE.ShaderMaterial({
    uniforms: {
      dome: { value: texture },
      brighter,
      texels: { value: new THREE.Vector2(texture.image.width, texture.image.height) },
      reversed: { value: reversed },
      discWay: { value: vectors(discs, ({ direction }) => direction) },
      discLight: { value: vectors(discs, ({ radiance }) => radiance) },
      discLitFrom: {
        value: vectors(discs, (one) => one.lit_from).map(
          ({ x, y, z }, i) => new THREE.Vector4(x, y, z, discs[i]?.lit_from ? 1 : 0),
        ),
      },
      discRadius: { value: Array.from({ length: DISCS }, (_, i) => discs[i]?.radius ?? 0) },
    },
    vertexShader: vertex,
    fragmentShader: fragment,
    side: THREE.BackSide,
    depthWrite: false,
    toneMapped: true,
  });
  material.addEventListener("dispose", () => texture.dispose());
  return material;
}

/** Stars as points, each as bright as a pixel that has all of its light; null where none are seen. */
export function starPoints({ arrays }: Pack<AboveMeta>): THREE.BufferGeometry | null {
  const { data, shape } = arrays.stars;
  if (!shape[0]) return null;
  const both = new THREE.InterleavedBuffer(data as Float32Array, 6);
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute("position", new THREE.InterleavedBufferAttribute(both, 3, 0));
  geometry.setAttribute("light", new THREE.InterleavedBufferAttribute(both, 3, 3));
  return geometry;
}

/** What draws stars. `pixel`: half of how high a pixel looks, over its distance; the view sets it. */
export function starMaterial(dome: THREE.ShaderMaterial, reversed: boolean): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    uniforms: { dome: dome.uniforms.dome, reversed: { value: reversed }, pixel: { value: 1 }, ratio: { value: 1 } },
    vertexShader: `
attribute vec3 light;
varying vec3 sent;
uniform sampler2D dome;
uniform bool reversed;
uniform float pixel;
uniform float ratio;
void main() {
  float up = sqrt(asin(clamp(position.y, 0.0, 1.0)) / ${(Math.PI / 2).toFixed(6)});
  float round = atan(position.x, -position.z) / ${(2 * Math.PI).toFixed(6)};
  sent = light * texture2D(dome, vec2(fract(round), up)).a / (pixel * pixel * 3.0);
  gl_Position = projectionMatrix * mat4(mat3(viewMatrix)) * vec4(position, 1.0);
  gl_Position.z = reversed ? 0.0 : gl_Position.w;
  gl_PointSize = 2.6 * ratio;
}`,
    fragmentShader: `
varying vec3 sent;
void main() {
  float away = length(gl_PointCoord - 0.5) * 2.0;
  gl_FragColor = vec4(sent * max(1.0 - away * away, 0.0), 1.0);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}`,
    blending: THREE.AdditiveBlending,
    transparent: true,
    depthWrite: false,
  });
}

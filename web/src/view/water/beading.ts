import * as THREE from "three";
import { declare, type Shader } from "../declare";
import type { Uniforms } from "../uniforms";

const code = `
uniform sampler2D behind;
uniform sampler2D around;
uniform vec2 pixels;
uniform vec3 sunWay;
varying vec3 vPlace;
`;

// What lies behind is seen where the bent ray comes out (Snell's law, water against air), no farther behind than a drop is thick; what is mirrored goes by Schlick's
// form of Fresnel's (1994). A drop gathers light on its side away from the sun.
const SEEN = `
{
  vec2 at = gl_FragCoord.xy / pixels;
  vec3 way = vPlace - cameraPosition;
  float near = length(way);
  vec3 look = way / near;
  vec3 turned = normalize((vec4(normal, 0.0) * viewMatrix).xyz);
  vec3 bent = refract(look, turned, 0.75);
  float thick = clamp(texture2D(behind, at).a - near, 0.0, 0.008);
  vec4 there = projectionMatrix * viewMatrix * vec4(vPlace + bent * thick * 1.3, 1.0);
  vec2 other = clamp(there.xy / there.w * 0.5 + 0.5, 0.5 / pixels, 1.0 - 0.5 / pixels);
  vec4 bed = texture2D(behind, other);
  // What stands before the drop is not seen in it.
  if (bed.a < near - 0.002) bed = texture2D(behind, at);
  float gathered = mix(1.3, 0.78, clamp(dot(turned, sunWay), 0.0, 1.0));
  vec3 gone = reflect(look, turned);
  vec3 mirrored = texture2D(around, vec2(atan(gone.z, gone.x) / ${(2 * Math.PI).toFixed(6)} + 0.5, asin(clamp(gone.y, -1.0, 1.0)) / ${Math.PI.toFixed(6)} + 0.5)).rgb;
  float share = 0.02 + 0.98 * pow(1.0 - clamp(-dot(look, turned), 0.0, 1.0), 5.0);
  outgoingLight = mix(bed.rgb * gathered, mirrored, share * 0.85) + reflectedLight.directSpecular;
}
#include <opaque_fragment>
`;

/** The parts of the renderer's shader that drops have their own of. */
export function asDrops(shader: Shader) {
  shader.vertexShader = shader.vertexShader
    .replace("#include <common>", "#include <common>\nvarying vec3 vPlace;")
    .replace(
      "#include <project_vertex>",
      "#include <project_vertex>\nvPlace = (modelMatrix * vec4(transformed, 1.0)).xyz;",
    );
  declare(shader, code);
  shader.fragmentShader = shader.fragmentShader
    .replace("#include <opaque_fragment>", SEEN)
    .replace("#include <common>", "uniform mat4 projectionMatrix;\n#include <common>");
}

/** Drops of water as light makes them: they need the picture of what lies behind them, see `waters.ts`. */
export function dropMaterial({ sky, air, water }: Uniforms): THREE.MeshStandardMaterial {
  const material = new THREE.MeshStandardMaterial({ color: 0x000000, roughness: 0.06, metalness: 0 });
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, { ...water.shared, around: sky.around, sunWay: air.sunWay });
    asDrops(shader);
  };
  material.customProgramCacheKey = () => "drops";
  return material;
}

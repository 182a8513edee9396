import * as THREE from "three";
import { skyAt } from "./Sky";
import { declare, type Shader } from "./declare";
import { findPatches, PATCH_OF, type PatchUniforms } from "./patches/sampling";
import type { Uniforms } from "./uniforms";

/** The composed maps of a surface, as textures. */
export interface SurfaceTextures {
  base: THREE.Texture;
  orm: THREE.Texture;
  normal: THREE.Texture;
}

/** What is done to a surface's material besides what the renderer does. */
export interface Shading {
  /** It gives light of its own, as strong as the geometry's `glow` tells. */
  glows: boolean;
  /** It mirrors a plain sky, where preparing the sky for reflections would take too long. */
  mirrors: boolean;
  /** What it looks like before any weather, left of the parting; none where nothing is parted. */
  bare: SurfaceTextures | null;
  /** Which patches of it are there; null where it is never looked at from near. */
  patches: PatchUniforms | null;
}

function glow(shader: Shader, { glowing }: Uniforms) {
  shader.vertexShader = shader.vertexShader
    .replace("#include <common>", "#include <common>\nattribute float glow;\nvarying float vGlow;")
    .replace("#include <begin_vertex>", "#include <begin_vertex>\nvGlow = glow;");
  shader.uniforms.glowing = glowing;
  declare(shader, "varying float vGlow;\nuniform float glowing;");
  shader.fragmentShader = shader.fragmentShader.replace(
    "#include <emissivemap_fragment>",
    "#include <emissivemap_fragment>\ntotalEmissiveRadiance += diffuseColor.rgb * vGlow * glowing;",
  );
}

// By Schlick's form of the Fresnel term ("An Inexpensive BRDF Model", 1994); a rough surface scatters it away.
function mirror(shader: Shader, { sky: { skyHorizon, skyZenith, skyGround } }: Uniforms) {
  Object.assign(shader.uniforms, { skyHorizon, skyZenith, skyGround });
  declare(shader, skyAt);
  shader.fragmentShader = shader.fragmentShader.replace(
    "#include <lights_fragment_end>",
    `#include <lights_fragment_end>
{
  vec3 upwards = normalize((viewMatrix * vec4(0.0, 1.0, 0.0, 0.0)).xyz);
  float smooth_ = (1.0 - roughnessFactor) * (1.0 - roughnessFactor);
  vec3 straight = mix(vec3(0.04), diffuseColor.rgb, metalnessFactor);
  float grazing = pow(1.0 - saturate(dot(normal, geometryViewDir)), 5.0);
  vec3 share = (straight + (1.0 - straight) * grazing) * smooth_;
  reflectedLight.indirectSpecular += share * skyAt(dot(reflect(-geometryViewDir, normal), upwards));
}`,
  );
}

const CHUNKS = [
  "map_fragment",
  "roughnessmap_fragment",
  "metalnessmap_fragment",
  "normal_fragment_maps",
  "aomap_fragment",
] as const;
const BARE: Partial<Record<string, string>> = {
  map: "bareMap",
  roughnessMap: "bareOrm",
  metalnessMap: "bareOrm",
  normalMap: "bareNormal",
};

function part(shader: Shader, { partedAt }: Uniforms, bare: SurfaceTextures) {
  Object.assign(shader.uniforms, {
    partedAt,
    bareMap: { value: bare.base },
    bareOrm: { value: bare.orm },
    bareNormal: { value: bare.normal },
  });
  declare(
    shader,
    "uniform float partedAt;\nuniform sampler2D bareMap;\nuniform sampler2D bareOrm;\nuniform sampler2D bareNormal;",
  );
}

/** A piece of the renderer's shader that reads patches where there are any, and the bare maps before the parting. */
export function readingChunk(chunk: string, patches: boolean, parted: boolean): string {
  return chunk.replace(/texture2D\( (\w+), (\w+) \)/g, (whole, map: string, uv: string) => {
    const array = PATCH_OF[map as keyof typeof PATCH_OF];
    const read = patches && array ? `patched(${array}, ${whole})` : whole;
    return parted && BARE[map] ? `(gl_FragCoord.x < partedAt ? texture2D(${BARE[map]}, ${uv}) : ${read})` : read;
  });
}

/** What to do to a material's shader; a name goes with it, as materials of one name share a program. */
export function shaded(
  uniforms: Uniforms,
  { glows, mirrors, bare, patches }: Shading,
): { name: string; compile: (shader: Shader) => void } {
  return {
    name: [glows && "glows", mirrors && "mirrors", bare && "parted", patches && "patched"].filter(Boolean).join(" "),
    compile: (shader) => {
      if (bare) part(shader, uniforms, bare);
      if (patches) findPatches(shader, uniforms.patches.shared, patches);
      if (bare || patches)
        for (const chunk of CHUNKS)
          shader.fragmentShader = shader.fragmentShader.replace(
            `#include <${chunk}>`,
            readingChunk(THREE.ShaderChunk[chunk], patches !== null, bare !== null),
          );
      if (glows) glow(shader, uniforms);
      if (mirrors) mirror(shader, uniforms);
    },
  };
}

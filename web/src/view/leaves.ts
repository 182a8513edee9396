import * as THREE from "three";

/** How much of what falls on a leaf from behind comes through it, against what it throws back in front. */
const THROUGH = 0.75;
/** What comes through is yellower than what is thrown back. */
const TINT = "vec3(1.1, 1.12, 0.6)";
/** Leaves stand every way within what one normal speaks for: their light fades out softly, so far beyond the edge of shade. */
const SOFT = 0.35;

// Of light from one direction, what a leaf shows besides what its front throws back.
const DECLARED = `
vec3 leafLight(vec3 way, vec3 light, vec3 normal, vec3 colour) {
  float facing = dot(normal, way);
  float front = max((facing + ${SOFT}) / (1.0 + ${SOFT}), 0.0) - max(facing, 0.0);
  return light * RECIPROCAL_PI * colour * (front + ${THROUGH} * max(-facing, 0.0) * ${TINT});
}
`;

/** A chunk of the renderer's lights, in which what light sends on from the front of something is met by what comes through it. */
export const lightThrough = (chunk: string): string =>
  chunk.replace(
    /RE_Direct\( directLight,[^;]*;/g,
    (call) =>
      `${call}\n\t\treflectedLight.directDiffuse += leafLight( directLight.direction, directLight.color, geometryNormal, material.diffuseColor );`,
  );

/** Let a material be lit as leaves are: as their crown is round, the same from both sides, and with light coming through them. */
export function litAsLeaves(material: THREE.Material) {
  const { normal_fragment_begin, lights_fragment_begin } = THREE.ShaderChunk;
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader
      .replace("#include <normal_fragment_begin>", normal_fragment_begin.replace("gl_FrontFacing ? 1.0 : - 1.0", "1.0"))
      .replace("#include <lights_fragment_begin>", lightThrough(lights_fragment_begin))
      .replace("void main()", `${DECLARED}void main()`);
  };
}

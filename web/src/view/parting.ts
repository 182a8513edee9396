import { declare, type Shader } from "./declare";
import type { Uniforms } from "./uniforms";

/** Lets materials of a view be drawn after the parting alone. */
export const afterAlone =
  ({ partedAt }: Uniforms) =>
  (shader: Shader) => {
    shader.uniforms.partedAt = partedAt;
    declare(shader, "uniform float partedAt;");
    shader.fragmentShader = shader.fragmentShader.replace(
      "#include <clipping_planes_fragment>",
      "#include <clipping_planes_fragment>\nif (gl_FragCoord.x < partedAt) discard;",
    );
  };

interface Parted {
  parted: number | null;
  partedBefore: number | null;
}

/** Where the parting stands after a key that flips it: all before, or what it was; null where there is none. */
export function flipped(parted: number | null, partedBefore: number | null): Parted {
  return parted === 1 ? { parted: partedBefore, partedBefore: null } : { parted: 1, partedBefore: parted };
}

import { ThroughAir } from "../air";
import { drawOverlay } from "../overlay";
import { uniformsOf } from "../uniforms";
import type { PassModule } from "./pass";

/** Draws the scene: behind its air where light is shown, then what lies over the picture. */
export const pass: PassModule = {
  order: 50,
  name: "picture",
  make: () => {
    const through = new ThroughAir();
    return ({ gl, scene, camera, mirrors }) => {
      const uniforms = uniformsOf(scene);
      if (uniforms.air.shown) through.draw(gl, scene, camera, uniforms, mirrors);
      else gl.render(scene, camera);
      drawOverlay(gl, scene, camera);
    };
  },
};

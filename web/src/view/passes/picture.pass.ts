import { drawnByProcessor } from "../../site/machine";
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
    return ({ gl, scene, camera, still }) => {
      const uniforms = uniformsOf(scene);
      // All that stands about water is drawn once more: by the processor when all is still.
      if (uniforms.air.shown) through.draw(gl, scene, camera, uniforms, still || !drawnByProcessor);
      else gl.render(scene, camera);
      drawOverlay(gl, scene, camera);
    };
  },
};

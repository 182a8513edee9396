import type { PassModule } from "./pass";

/** Draws the scene. */
export const pass: PassModule = {
  order: 50,
  name: "picture",
  make:
    () =>
    ({ gl, scene, camera }) =>
      gl.render(scene, camera),
};

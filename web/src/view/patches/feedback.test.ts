import * as THREE from "three";
import { expect, it } from "vitest";
import { type Drawn, Feedback } from "./feedback";
import type { Layout } from "./layout";

/** A renderer that keeps what it was asked to draw. */
function renderer() {
  const drawn: THREE.Mesh[][] = [];
  const gl = {
    domElement: { width: 400, height: 200 },
    getClearColor: (into: THREE.Color) => into,
    getClearAlpha: () => 1,
    getRenderTarget: () => null,
    setClearColor: () => undefined,
    setRenderTarget: () => undefined,
    clear: () => undefined,
    render: (scene: THREE.Scene) => drawn.push([...scene.children] as THREE.Mesh[]),
    readRenderTargetPixelsAsync: () => Promise.resolve(),
  };
  return { gl: gl as unknown as THREE.WebGLRenderer, drawn };
}

const surface = (id: string, columns: number): Drawn => ({
  id,
  mesh: new THREE.Mesh(new THREE.PlaneGeometry()),
  layout: { columns, rows: 7 } as Layout,
});

it("numbers what it draws, and draws with the same materials at each rest", async () => {
  const { gl, drawn } = renderer();
  const feedback = new Feedback(gl, 4);
  const out = await feedback.places(new THREE.Camera(), [surface("a", 10), surface("b", 20)]);
  expect(out.length).toBe(100 * 50 * 4);
  await feedback.places(new THREE.Camera(), [surface("b", 20)]);
  const [first, second] = drawn.map((meshes) => meshes.map(({ material }) => material as THREE.ShaderMaterial));
  expect(first.map(({ uniforms }) => uniforms.number.value as number)).toEqual([1, 2]);
  expect(second).toEqual([first[0]]);
  expect((second[0].uniforms.cells.value as THREE.Vector2).toArray()).toEqual([20, 7]);
});

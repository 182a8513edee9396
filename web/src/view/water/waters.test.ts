import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { uniformsOf } from "../uniforms";
import type { Mirrored } from "./material";
import { asBody, type Body, Waters } from "./waters";

/** A renderer that tells what it was asked to draw, where, and how. */
function renderer() {
  const drawn: { what: THREE.Scene; camera: THREE.Camera; target: unknown; layers: number; clears: boolean }[] = [];
  let target: unknown = null;
  const gl = {
    autoClear: true,
    capabilities: { reversedDepthBuffer: true },
    setRenderTarget: (next: unknown) => (target = next),
    render: (what: THREE.Scene, camera: THREE.Camera) =>
      drawn.push({ what, camera, target, layers: camera.layers.mask, clears: gl.autoClear }),
  };
  return { gl: gl as unknown as THREE.WebGLRenderer, drawn };
}

function camera(): THREE.PerspectiveCamera {
  const made = new THREE.PerspectiveCamera(50, 1.5, 0.1, 200);
  made.position.set(0, 2, 8);
  made.lookAt(0, 0, 0);
  made.updateMatrixWorld();
  return made;
}

function body(level: number, x = 0): Body {
  const mesh = new THREE.Mesh(new THREE.PlaneGeometry(2, 2).rotateX(-Math.PI / 2));
  mesh.position.set(x, level, 0);
  mesh.updateMatrixWorld();
  asBody(mesh);
  const mirrored: Mirrored = {
    mirror: { value: null },
    toMirror: { value: new THREE.Matrix4() },
    mirrors: { value: 0 },
  };
  return { mesh, level, mirrored };
}

function site(...bodies: Body[]) {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color("red");
  const uniforms = uniformsOf(scene);
  for (const one of bodies) uniforms.water.bodies.add(one);
  return { scene, uniforms };
}

const picture = () => new THREE.WebGLRenderTarget(96, 64, { depthTexture: new THREE.DepthTexture(96, 64) });

describe("the water of a view", () => {
  it("is drawn last, over what stands about it, by what it mirrors and what lies behind it", () => {
    const { gl, drawn } = renderer();
    const one = body(0);
    const { scene, uniforms } = site(one);
    const [seen, target] = [camera(), picture()];
    new Waters().draw(gl, scene, seen, target, uniforms, true);
    const [mirrored, copied, water] = drawn;
    expect(drawn).toHaveLength(3);
    expect(mirrored.what).toBe(scene);
    expect(mirrored.camera.position.y).toBeCloseTo(-2);
    expect(one.mirrored.mirror.value).toBe((mirrored.target as THREE.WebGLRenderTarget).texture);
    expect(one.mirrored.mirrors.value).toBe(1);
    expect(uniforms.water.shared.behind.value).toBe((copied.target as THREE.WebGLRenderTarget).texture);
    expect([water.what, water.target, water.clears]).toEqual([scene, target, false]);
    // Water alone, and all is as it was afterwards.
    expect(water.layers).toBe(one.mesh.layers.mask);
    expect([seen.layers.mask, gl.autoClear, scene.background]).toEqual([1, true, new THREE.Color("red")]);
  });

  it("mirrors what it did where that may not be drawn anew, but nothing that was seen from elsewhere", () => {
    const { gl, drawn } = renderer();
    const one = body(0);
    const { scene, uniforms } = site(one);
    const [waters, seen] = [new Waters(), camera()];
    waters.draw(gl, scene, seen, picture(), uniforms, true);
    waters.draw(gl, scene, seen, picture(), uniforms, false);
    expect([drawn.length, one.mirrored.mirrors.value]).toEqual([5, 1]);
    seen.position.x = 0.5;
    seen.updateMatrixWorld();
    waters.draw(gl, scene, seen, picture(), uniforms, false);
    expect([drawn.length, one.mirrored.mirrors.value, one.mirrored.mirror.value]).toEqual([7, 0, null]);
  });

  it("is left alone where it is not in sight, seen from below, or not there", () => {
    const { gl, drawn } = renderer();
    const { scene, uniforms } = site(body(0, 100), body(5));
    new Waters().draw(gl, scene, camera(), picture(), uniforms, true);
    expect(drawn).toHaveLength(0);
  });

  it("has a mirror for each of two levels, the nearest ones, and the sky for others", () => {
    const { gl } = renderer();
    const bodies = [body(-1.5), body(0.5), body(0)];
    const { scene, uniforms } = site(...bodies, body(0, 0.5));
    new Waters().draw(gl, scene, camera(), picture(), uniforms, true);
    expect(bodies.map(({ mirrored }) => mirrored.mirrors.value)).toEqual([0, 1, 1]);
  });
});

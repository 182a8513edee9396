import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { uniformsOf } from "../uniforms";
import type { Body, Mirrored } from "./body";
import { asBody, asDrop, Waters } from "./waters";

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

/** Draw a picture as a view does. */
function draw(
  waters: Waters,
  gl: THREE.WebGLRenderer,
  seen: THREE.PerspectiveCamera,
  of: ReturnType<typeof site>,
  anew = true,
) {
  const target = picture();
  waters.draw(gl, of.scene, seen, target, of.uniforms, waters.inSight(of.uniforms, seen), anew);
  return target;
}

describe("the water of a view", () => {
  it("is drawn last, over what stands about it, by what it mirrors and what lies behind it", () => {
    const { gl, drawn } = renderer();
    const one = body(0);
    const found = site(one);
    const { scene, uniforms } = found;
    const sun = new THREE.DirectionalLight();
    scene.add(sun);
    const seen = camera();
    const target = draw(new Waters(), gl, seen, found);
    const [mirrored, copied, water] = drawn;
    expect(drawn).toHaveLength(3);
    expect(mirrored.what).toBe(scene);
    expect(mirrored.camera.position.y).toBeCloseTo(-2);
    expect(one.mirrored.mirror.value).toBe((mirrored.target as THREE.WebGLRenderTarget).texture);
    expect(one.mirrored.mirrors.value).toBe(1);
    expect(uniforms.water.shared.behind.value).toBe((copied.target as THREE.WebGLRenderTarget).texture);
    expect([water.what, water.target, water.clears]).toEqual([scene, target, false]);
    // Water alone, in the light of all lamps, and all is as it was afterwards.
    expect(water.layers).toBe(one.mesh.layers.mask);
    expect([sun.layers.test(one.mesh.layers), sun.layers.test(new THREE.Layers())]).toEqual([true, true]);
    expect([seen.layers.mask, gl.autoClear, scene.background]).toEqual([1, true, new THREE.Color("red")]);
  });

  it("mirrors what it did where that may not be drawn anew, but nothing that was seen from elsewhere", () => {
    const { gl, drawn } = renderer();
    const one = body(0);
    const found = site(one);
    const [waters, seen] = [new Waters(), camera()];
    draw(waters, gl, seen, found);
    draw(waters, gl, seen, found, false);
    expect([drawn.length, one.mirrored.mirrors.value]).toEqual([5, 1]);
    seen.position.x = 0.5;
    seen.updateMatrixWorld();
    draw(waters, gl, seen, found, false);
    expect([drawn.length, one.mirrored.mirrors.value, one.mirrored.mirror.value]).toEqual([7, 0, null]);
  });

  it("is left alone where it is not in sight, seen from below, or not there", () => {
    const { gl, drawn } = renderer();
    draw(new Waters(), gl, camera(), site(body(0, 100), body(5)));
    expect(drawn).toHaveLength(0);
  });

  it("is drawn with drops that lie on things, unless these are too small to be seen", () => {
    const drawnWith = (widest: number) => {
      const of = site();
      const drop = new THREE.Mesh(new THREE.SphereGeometry(widest / 2));
      drop.geometry.computeBoundingSphere();
      asDrop(drop);
      of.uniforms.water.drops.set(drop, widest);
      const { gl, drawn } = renderer();
      draw(new Waters(), gl, camera(), of);
      return { drop, drawn };
    };
    // Eight metres away a pixel of this picture is 12 cm high.
    const large = drawnWith(0.2);
    expect([large.drop.visible, large.drawn.length]).toEqual([true, 2]);
    expect(large.drawn[1].layers).toBe(large.drop.layers.mask);
    const small = drawnWith(0.01);
    expect([small.drop.visible, small.drawn.length]).toEqual([false, 0]);
  });

  it("has a mirror for each of two levels, the nearest ones, and the sky for others", () => {
    const { gl } = renderer();
    const bodies = [body(-1.5), body(0.5), body(0)];
    draw(new Waters(), gl, camera(), site(...bodies, body(0, 0.5)));
    expect(bodies.map(({ mirrored }) => mirrored.mirrors.value)).toEqual([0, 1, 1]);
  });

  it("comes before what falls through the air, which is drawn with all the rest where no water is in sight", () => {
    const [one, rain] = [body(0), new THREE.Object3D()];
    const { uniforms } = site(one);
    uniforms.water.drifting.add(rain);
    const [waters, seen] = [new Waters(), camera()];
    expect(waters.inSight(uniforms, seen)).toEqual([one]);
    expect(rain.layers.mask).toBe(one.mesh.layers.mask);
    seen.lookAt(0, 90, 20);
    seen.updateMatrixWorld();
    expect(waters.inSight(uniforms, seen)).toEqual([]);
    expect(rain.layers.mask).toBe(new THREE.Layers().mask);
  });
});

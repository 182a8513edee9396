import * as THREE from "three";
import { describe, expect, it } from "vitest";
import type { DaylightMeta } from "../api/daylight";
import type { Pack } from "../api/pack";
import { breathe, shine, ThroughAir } from "./air";
import { drawOverlay, overlaid, overlayCaster } from "./overlay";
import { uniformsOf } from "./uniforms";

const meta = {
  fog: [1, 2, 3],
  fog_sun: [4, 5, 6],
  dust: [1, 0.8, 0.6],
  direction: [0, 1, 0],
  air: { haze: 0.001, fog: 0.05, top: 2, fade: 3, banks: 0.4, size: 25, side: 4, lobe: 0.76 },
} as unknown as DaylightMeta;
const banks = { data: new Float32Array(4), shape: [2, 2] };
const pack = (arrays: object) => ({ arrays, meta }) as unknown as Pack<DaylightMeta>;

/** A renderer that tells what it was asked to draw, where, and how. */
function renderer() {
  const drawn: { target: unknown; layers: number; clears: boolean; background: unknown; what: THREE.Scene }[] = [];
  let target: unknown = null;
  const gl = {
    autoClear: true,
    capabilities: { reversedDepthBuffer: true },
    getDrawingBufferSize: (size: THREE.Vector2) => size.set(64, 32),
    setRenderTarget: (next: unknown) => (target = next),
    render: (what: THREE.Scene, camera: THREE.Camera) =>
      drawn.push({ what, target, layers: camera.layers.mask, clears: gl.autoClear, background: what.background }),
  };
  return { gl: gl as unknown as THREE.WebGLRenderer, drawn };
}

describe("the air of a view", () => {
  it("is set from what the server tells, banks with it, and taken down", () => {
    const uniforms = uniformsOf(new THREE.Scene());
    const clear = breathe(uniforms, pack({ banks }));
    const { air } = uniforms;
    expect([air.airHaze.value, air.fogThick.value, air.banksLong.value, air.fogLobe.value]).toEqual([
      0.001, 0.05, 100, 0.76,
    ]);
    expect(air.fogSun.value.toArray()).toEqual([4, 5, 6]);
    expect(air.banks.value?.wrapS).toBe(THREE.RepeatWrapping);
    clear();
    expect(air.banks.value).toBeNull();
    breathe(uniforms, pack({}));
    expect(air.banks.value).toBeNull();
  });

  it("has the sun shine through fog where the server says, and everywhere once that is taken down", () => {
    const uniforms = uniformsOf(new THREE.Scene());
    const lit = { data: new Uint8Array(24), shape: [2, 3, 4] };
    const box = { data: new Float32Array([-1, 0, -2, 4, 3, 2]), shape: [2, 3] };
    const end = shine(uniforms, pack({ lit, box }));
    const { sunlit, sunlitLow, sunlitSpan } = uniforms.air;
    const { width, height, depth } = sunlit.value!.image;
    expect([width, height, depth]).toEqual([4, 3, 2]);
    expect([sunlitLow.value.toArray(), sunlitSpan.value.toArray()]).toEqual([
      [-1, 0, -2],
      [4, 3, 2],
    ]);
    end();
    expect([sunlit.value, sunlitSpan.value.x]).toEqual([null, 0]);
  });

  it("is laid over a picture of the light, with the depth of what is seen", () => {
    const { gl, drawn } = renderer();
    const scene = new THREE.Scene();
    const camera = new THREE.PerspectiveCamera();
    new ThroughAir().draw(gl, scene, camera, uniformsOf(scene), true);
    const [picture, laid] = drawn;
    expect(picture.what).toBe(scene);
    const target = picture.target as THREE.WebGLRenderTarget;
    expect([target.width, target.height, target.texture.type]).toEqual([64, 32, THREE.HalfFloatType]);
    expect(laid.target).toBeNull();
    const sheet = laid.what.children[0] as THREE.Mesh<THREE.BufferGeometry, THREE.ShaderMaterial>;
    expect(sheet.material.uniforms.depths.value).toBe(target.depthTexture);
    // What the view sets is what the shader reads.
    expect(sheet.material.uniforms.airHaze).toBe(uniformsOf(scene).air.airHaze);
  });
});

describe("what lies over the picture", () => {
  it("is drawn after it, without clearing and without a sky, and all is as it was", () => {
    const { gl, drawn } = renderer();
    const scene = new THREE.Scene();
    scene.background = new THREE.Color("red");
    const camera = new THREE.PerspectiveCamera();
    drawOverlay(gl, scene, camera);
    expect(drawn.map(({ layers, clears, background }) => [layers, clears, background])).toEqual([[2, false, null]]);
    expect([camera.layers.mask, gl.autoClear, scene.background]).toEqual([1, true, new THREE.Color("red")]);
  });

  it("is found by its own caster alone", () => {
    const ball = overlaid(
      new THREE.Group().add(new THREE.Mesh(new THREE.SphereGeometry(1), new THREE.MeshBasicMaterial())),
    );
    const look = (caster: THREE.Raycaster) => {
      caster.set(new THREE.Vector3(0, 0, 5), new THREE.Vector3(0, 0, -1));
      return caster.intersectObject(ball, true).length > 0;
    };
    expect([look(overlayCaster()), look(new THREE.Raycaster())]).toEqual([true, false]);
  });
});

import * as THREE from "three";
import { describe, expect, it } from "vitest";
import type { AboveMeta } from "../api/daylight";
import type { Pack } from "../api/pack";
import { domeMaterial, domeTexture, starPoints } from "./dome";

const [HEIGHT, WIDTH] = [2, 4];

/** A sky of halves 1, 2, 3 … with a moon and as many stars. */
function above(stars: number): Pack<AboveMeta> {
  const halves = new Uint16Array(HEIGHT * WIDTH * 4).map((_, i) => THREE.DataUtils.toHalfFloat(i + 1));
  const moon = { direction: [0, 0, -1], radius: 0.005, radiance: [9, 8, 7], lit_from: [0, -1, 0] };
  return {
    arrays: {
      dome: { data: new Uint8Array(halves.buffer), shape: [HEIGHT, WIDTH, 8] },
      stars: { data: new Float32Array(stars * 6).map((_, i) => i), shape: [stars, 6] },
    },
    meta: { discs: [moon] },
  };
}

describe("what is above the horizon", () => {
  it("is read as half floats, and goes once around", () => {
    const texture = domeTexture(above(0));
    const { data, width, height } = texture.image as { data: Uint16Array; width: number; height: number };
    expect([width, height, THREE.DataUtils.fromHalfFloat(data[9])]).toEqual([WIDTH, HEIGHT, 10]);
    expect([texture.wrapS, texture.wrapT]).toEqual([THREE.RepeatWrapping, THREE.ClampToEdgeWrapping]);
  });

  it("has the discs that are there, and none in place of others", () => {
    const { uniforms } = domeMaterial(above(0), false, { value: 1 });
    expect(uniforms.discRadius.value).toEqual([0.005, 0]);
    expect(uniforms.discWay.value[0].toArray()).toEqual([0, 0, -1]);
    // The moon is lit from somewhere; the sun, or nothing at all, is not.
    expect(uniforms.discLitFrom.value.map((one: THREE.Vector4) => one.w)).toEqual([1, 0]);
  });

  it("has stars where there are any, each with its way and its light", () => {
    expect(starPoints(above(0))).toBeNull();
    const points = starPoints(above(2))!;
    expect(points.getAttribute("position").count).toBe(2);
    expect([points.getAttribute("position").getX(1), points.getAttribute("light").getX(1)]).toEqual([6, 9]);
  });
});

import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { lightOf } from "./Lamps";

const beam = {
  intensity: [0.002, 0.001, 0.0005],
  outer: 180,
  inner: 180,
  wide: 0,
  long: 0,
  profile: null,
  flame: null,
  heart: 0,
};

describe("the light of a lamp", () => {
  it("is as strong as its beam, exposed, and of its colour", () => {
    const light = lightOf(beam, 1000);
    expect(light).toBeInstanceOf(THREE.PointLight);
    expect(light.intensity).toBeCloseTo(2);
    expect([light.color.r, light.color.g, light.color.b]).toEqual([1, 0.5, 0.25]);
    // By the square of the distance, and without an end.
    expect([light.decay, light.distance]).toEqual([2, 0]);
  });

  it("is a cone where its beam is one, aimed along its own axis", () => {
    const light = lightOf({ ...beam, outer: 30, inner: 15 }, 1) as THREE.SpotLight;
    expect(light).toBeInstanceOf(THREE.SpotLight);
    expect([(light.angle * 180) / Math.PI, light.penumbra]).toEqual([expect.closeTo(30), 0.5]);
    expect(light.target.position.toArray()).toEqual([0, -1, 0]);
    expect(light.target.parent).toBe(light);
  });
});

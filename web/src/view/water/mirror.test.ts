import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { newMirror, setMirror } from "./mirror";

const LEVEL = -0.6;

function seen(): THREE.PerspectiveCamera {
  const camera = new THREE.PerspectiveCamera(50, 1.6, 0.1, 500);
  camera.position.set(3, 2, 8);
  camera.lookAt(-1, 0.4, -2);
  // A shifted lens, too.
  camera.setViewOffset(160, 100, 7, -9, 160, 100);
  camera.updateMatrixWorld();
  return camera;
}

describe("a mirror", () => {
  it.each([true, false])(
    "sees in each place of the water what stands over it in the mirror, depth reversed: %s",
    (reversed) => {
      const camera = seen();
      const mirror = newMirror();
      setMirror(mirror, camera, LEVEL, reversed);
      const above = new THREE.Vector3(-2, 1.5, -4);
      // Where the light from there to the eye meets the water: as high below it in the mirror.
      const image = above.clone().setY(2 * LEVEL - above.y);
      const share = (camera.position.y - LEVEL) / (camera.position.y - image.y);
      const place = camera.position.clone().lerp(image, share);
      expect(place.y).toBeCloseTo(LEVEL);
      const onPicture = place.clone().applyMatrix4(mirror.toTexture);
      const drawn = above.clone().project(mirror.camera);
      expect([drawn.x / 2 + 0.5, drawn.y / 2 + 0.5]).toEqual([
        expect.closeTo(onPicture.x, 5),
        expect.closeTo(onPicture.y, 5),
      ]);
    },
  );

  it.each([true, false])("draws what is above the water and nothing below it, depth reversed: %s", (reversed) => {
    const mirror = newMirror();
    setMirror(mirror, seen(), LEVEL, reversed);
    const depth = (y: number) => new THREE.Vector3(-2, y, -4).project(mirror.camera).z;
    const [near, far] = reversed ? [1, 0] : [-1, 1];
    const within = (one: number) => one >= Math.min(near, far) && one <= Math.max(near, far);
    expect(depth(LEVEL)).toBeCloseTo(near, 5);
    expect([LEVEL - 0.5, LEVEL + 0.01, 2, 4].map((y) => within(depth(y)))).toEqual([false, true, true, true]);
    // Of two places on one way, the nearer one hides the other.
    const [eye, there] = [mirror.camera.position, new THREE.Vector3(-2, 3, -4)];
    const [first, second] = [0.8, 1].map((share) => eye.clone().lerp(there, share).project(mirror.camera).z);
    expect(Math.abs(first - near)).toBeLessThan(Math.abs(second - near));
  });
});

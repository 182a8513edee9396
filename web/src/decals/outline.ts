import * as THREE from "three";
import { colours } from "../theme/theme";
import { overlaid } from "../view/overlay";

const CORNERS = [-0.5, 0.5].flatMap((y) => [
  [-0.5, y, -0.5],
  [0.5, y, -0.5],
  [0.5, y, 0.5],
  [-0.5, y, 0.5],
]) as [number, number, number][];
const EDGES = [0, 1, 2, 3].flatMap((k) => [
  [k, k + 4],
  [k, (k + 1) % 4],
  [k + 4, ((k + 1) % 4) + 4],
]);

/** The edges of a box, the sheet of the picture in its middle, and a stroke at its upper side; drawn over the picture of the view. */
export function outline(): THREE.Group {
  const points = EDGES.flatMap(([a, b]) => [new THREE.Vector3(...CORNERS[a]), new THREE.Vector3(...CORNERS[b])]);
  const line = (pairs: THREE.Vector3[], colour: string, opacity: number) =>
    new THREE.LineSegments(
      new THREE.BufferGeometry().setFromPoints(pairs),
      new THREE.LineBasicMaterial({ color: colour, opacity, transparent: true, depthTest: false, toneMapped: false }),
    );
  const at = (x: number, z: number) => new THREE.Vector3(x, 0, z);
  const sheet = [at(-0.5, -0.5), at(0.5, -0.5), at(0.5, 0.5), at(-0.5, 0.5)];
  const rim = sheet.flatMap((corner, k) => [corner, sheet[(k + 1) % 4]]);
  const group = new THREE.Group();
  group.add(
    line(points, colours.water, 0.35),
    line(rim, colours.water, 1),
    // A short stroke at the upper side tells which way up it is.
    line([at(-0.12, -0.46), at(0, -0.5), at(0, -0.5), at(0.12, -0.46)], colours.oxide, 1),
  );
  group.matrixAutoUpdate = false;
  group.visible = false;
  group.traverse((one) => {
    one.raycast = () => undefined;
    one.renderOrder = 20;
    one.frustumCulled = false;
  });
  return overlaid(group);
}

/** Put an outline about a box. @param size along its own axes, metres. */
export function outlined(group: THREE.Group, matrix: THREE.Matrix4, size: THREE.Vector3) {
  group.matrix.copy(matrix).scale(size);
  group.matrixWorldNeedsUpdate = true;
}

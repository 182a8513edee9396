import type * as THREE from "three";

/** The points of a stroke, none nearer to the one before than a share of the radius; metres along x and z. */
export function withPoint(
  path: [number, number][],
  x: number,
  z: number,
  radius: number,
  share = 0.2,
): [number, number][] {
  const last = path[path.length - 1];
  if (last && Math.hypot(last[0] - x, last[1] - z) < radius * share) return path;
  return [...path, [Number(x.toFixed(3)), Number(z.toFixed(3))]];
}

/**
 * Put heights into a drawn ground: those of a window of its grid.
 * `size` is the extent of the ground along x and z, `shape` its rows and columns of points.
 */
export function applyHeights(
  position: THREE.BufferAttribute,
  size: number[],
  shape: [number, number],
  window: [number, number, number, number],
  heights: Float32Array,
): void {
  const [rows, columns] = shape;
  const [r0, r1, c0, c1] = window;
  for (let i = 0; i < position.count; i++) {
    const column = Math.round(((position.getX(i) + size[0] / 2) / size[0]) * (columns - 1));
    const row = Math.round(((position.getZ(i) + size[1] / 2) / size[1]) * (rows - 1));
    if (row >= r0 && row < r1 && column >= c0 && column < c1)
      position.setY(i, heights[(row - r0) * (c1 - c0) + column - c0]);
  }
  position.needsUpdate = true;
}

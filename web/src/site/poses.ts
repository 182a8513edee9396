import * as THREE from "three";
import type { Operation, SiteDocument, Structure } from "../api/client";

export type Placement = Structure["placement"];
export type Point = [number, number, number];
export type Pose = Omit<Placement, "size">;

const RADIANS = Math.PI / 180;

/** The rigid matrix of a placement, as the core makes it: rolled, then tipped, then turned, then moved. */
export function poseOf({ position, turn, tip, roll }: Pose): THREE.Matrix4 {
  const angles = new THREE.Euler(tip * RADIANS, turn * RADIANS, roll * RADIANS, "YXZ");
  return new THREE.Matrix4().makeRotationFromEuler(angles).setPosition(...(position as Point));
}

const tidy = (value: number, digits: number) => Number(value.toFixed(digits)) + 0;

/** Degrees in (-180, 180]. */
export function wrapped(degrees: number): number {
  const inside = ((degrees % 360) + 360) % 360;
  return inside > 180 ? inside - 360 : inside;
}

/** What the handles do: move by metres, turn by degrees about the upright axis through a pivot. */
export interface Shift {
  by: Point;
  turn: number;
}

/** A placement after a shift about a pivot, to the millimetre. */
export function shifted<Posed extends Pick<Placement, "position" | "turn">>(
  placement: Posed,
  pivot: Point,
  { by, turn }: Shift,
): Posed {
  const [cos, sin] = [Math.cos(turn * RADIANS), Math.sin(turn * RADIANS)];
  const [x, y, z] = placement.position as Point;
  const [dx, dz] = [x - pivot[0], z - pivot[2]];
  return {
    ...placement,
    position: [
      tidy(pivot[0] + dx * cos + dz * sin + by[0], 3),
      tidy(y + by[1], 3),
      tidy(pivot[2] - dx * sin + dz * cos + by[2], 3),
    ],
    turn: tidy(wrapped(placement.turn + turn), 2),
  };
}

/** The middle of some places. */
export function middleOf(places: Point[]): Point {
  const sum: Point = [0, 0, 0];
  for (const place of places) place.forEach((value, axis) => (sum[axis] += value / places.length));
  return sum;
}

/** Lists of the document whose layers have a placement. */
export type PosedList = "structures" | "lamps";
export type Posed = SiteDocument[PosedList][number];

/** The middle of where some objects or lamps stand. */
export function pivotOf(posed: Pick<Posed, "placement">[]): Point {
  return middleOf(posed.map(({ placement }) => placement.position as Point));
}

/** The operations that put objects, or lamps, where a shift takes them. */
export function shiftOperations(
  document: SiteDocument,
  ids: string[],
  pivot: Point,
  shift: Shift,
  list: PosedList = "structures",
): Operation[] {
  return ids.map((id) => {
    const row = document[list].findIndex((one) => one.id === id);
    const value = shifted(document[list][row].placement, pivot, shift);
    return { op: "replace", path: `/${list}/${row}/placement`, value };
  });
}

/** A pose turned so that what points down in its own frame points at a place; as it was where it is at that place. */
export function aimedAt(pose: Pose, place: Point): Pose {
  const way = new THREE.Vector3(...place).sub(new THREE.Vector3(...(pose.position as Point)));
  if (way.length() < 1e-6) return pose;
  way.normalize();
  const turn = Math.hypot(way.x, way.z) < 1e-6 ? pose.turn : Math.atan2(way.x, way.z) / RADIANS;
  return { ...pose, turn: tidy(turn, 2), tip: tidy(-Math.acos(-way.y) / RADIANS, 2), roll: 0 };
}

/** Points of the world in an object's own frame, along x and z. */
export function inOwnFrame(points: Point[], placement: Placement | null): Point[] {
  if (!placement) return points;
  const back = poseOf(placement).invert();
  return points.map((point) => {
    const own = new THREE.Vector3(...point).applyMatrix4(back).divideScalar(placement.size);
    return [tidy(own.x, 3), tidy(own.y, 3), tidy(own.z, 3)];
  });
}

/** A pose that is given in the frame of a placement, as a placement of the world; its size is that of the frame. */
export function composed(frame: Placement, pose: Pose): Placement {
  const [x, y, z] = pose.position as Point;
  const inner = poseOf({ ...pose, position: [x * frame.size, y * frame.size, z * frame.size] });
  const whole = poseOf(frame).multiply(inner);
  const angles = new THREE.Euler().setFromRotationMatrix(whole, "YXZ");
  const place = new THREE.Vector3().setFromMatrixPosition(whole);
  return {
    position: [tidy(place.x, 4), tidy(place.y, 4), tidy(place.z, 4)],
    turn: tidy(angles.y / RADIANS, 3),
    tip: tidy(angles.x / RADIANS, 3),
    roll: tidy(angles.z / RADIANS, 3),
    size: frame.size,
  };
}

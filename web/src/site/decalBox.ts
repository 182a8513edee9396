import * as THREE from "three";
import type { Operation, PlacedDecal, SceneManifest, SiteDocument, Structure } from "../api/client";
import { freshId, freshName } from "./layers";
import { type Point, poseOf } from "./poses";

/** Where a decal's box is and how large: what of a decal a placing changes. */
export type Lie = Pick<PlacedDecal, "placement" | "spin" | "width" | "height" | "reach">;
type Frame = Structure["placement"] | null;

const RADIANS = Math.PI / 180;
const tidy = (value: number, digits: number) => Number(value.toFixed(digits)) + 0;

/** The frame that a decal is placed in: its object's, or none for the world's. */
export function frameOf(structures: Structure[], object: string): Frame {
  return structures.find((one) => one.id === object)?.placement ?? null;
}

/** From a decal's box to the world: x to the right of its picture, y out of the surface, z down its picture; all of unit length. */
export function boxMatrix({ placement, spin }: Lie, frame: Frame): THREE.Matrix4 {
  const own = poseOf(placement).multiply(new THREE.Matrix4().makeRotationY(spin * RADIANS));
  if (!frame) return own;
  const at = new THREE.Vector3().setFromMatrixPosition(own).multiplyScalar(frame.size);
  return poseOf(frame).multiply(own.setPosition(at));
}

/**
 * The uppermost decal whose box holds a place on a surface, as far as it can be picked there: null for none. Of one whose object is repeated that is the first
 * of its boxes.
 */
export function decalAt(
  { decals, structures }: Pick<SiteDocument, "decals" | "structures">,
  place: THREE.Vector3,
  surface: string,
): PlacedDecal | null {
  const held = (decal: PlacedDecal) => {
    if (!decal.shown || decal.locked || decal.spread.on || decal.skips.includes(surface)) return false;
    if (decal.only_object && surface !== (decal.object || "ground")) return false;
    const frame = frameOf(structures, decal.object);
    if (decal.object && decal.object !== "ground" && !frame) return false;
    const own = place.clone().applyMatrix4(boxMatrix(decal, frame).invert());
    const half = extentOf(decal, frame).divideScalar(2);
    return Math.abs(own.x) <= half.x && Math.abs(own.y) <= half.y && Math.abs(own.z) <= half.z;
  };
  const over = (decal: PlacedDecal) => decal.lies === "over the weather";
  const found = decals.filter(held);
  return found.filter(over).at(-1) ?? found.at(-1) ?? null;
}

/** The extent of a decal's box along its own axes, in the world: metres. */
export const extentOf = ({ width, height, reach }: Lie, frame: Frame) =>
  new THREE.Vector3(width, reach, height).multiplyScalar(frame?.size ?? 1);

/**
 * A pose and spin of a box whose axes are known: turned and tipped as its surface is, and spun in that.
 *
 * @param matrix a rigid matrix from the box to the world.
 */
export function lieOf(matrix: THREE.Matrix4, frame: Frame): Pick<Lie, "placement" | "spin"> {
  const own = frame ? poseOf(frame).invert().multiply(matrix) : matrix;
  const [across, out, down] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3()];
  own.extractBasis(across, out, down);
  const level = Math.hypot(out.x, out.z) < 1e-4;
  const turn = level ? 0 : Math.atan2(out.x, out.z) / RADIANS;
  const tip = level ? (out.y > 0 ? 0 : 180) : Math.acos(Math.min(1, Math.max(-1, out.y))) / RADIANS;
  const position = new THREE.Vector3().setFromMatrixPosition(own).divideScalar(frame?.size ?? 1);
  const placement = {
    position: position.toArray().map((value) => tidy(value, 4)) as Point,
    turn: tidy(turn, 2),
    tip: tidy(tip, 2),
    roll: 0,
  };
  const unspun = poseOf({ ...placement });
  const [right, , below] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3()];
  unspun.extractBasis(right, new THREE.Vector3(), below);
  return { placement, spin: tidy(Math.atan2(-across.dot(below), across.dot(right)) / RADIANS, 2) };
}

/** How near to level a surface is on which a picture is upright as one looks at it, in place of towards the sky. */
const LEVEL = 0.9;

/**
 * The box of a picture that lies on a surface, its upper side up, or away from whoever looks where the surface is level.
 *
 * @param ahead the way that one looks. @param up the way that its upper side has, where that is to stay.
 */
export function onSurface(
  at: THREE.Vector3,
  normal: THREE.Vector3,
  ahead: THREE.Vector3,
  up?: THREE.Vector3,
): THREE.Matrix4 {
  const out = normal.clone().normalize();
  const wanted = up?.clone() ?? (Math.abs(out.y) > LEVEL ? ahead.clone().setY(0) : new THREE.Vector3(0, 1, 0));
  if (out.y < -LEVEL && !up) wanted.negate();
  wanted.addScaledVector(out, -wanted.dot(out));
  // What is to be up may point out of the surface.
  if (wanted.lengthSq() < 1e-8)
    wanted.set(out.y, out.z, out.x).addScaledVector(out, -(out.y * out.x + out.z * out.y + out.x * out.z));
  const down = wanted.normalize().negate();
  return new THREE.Matrix4().makeBasis(out.clone().cross(down), out, down).setPosition(at);
}

/** Where a pointer's ray meets the plane of a box, along its x and z from its middle, metres; null where it does not. */
export function onPlane(ray: THREE.Ray, matrix: THREE.Matrix4): [number, number] | null {
  const middle = new THREE.Vector3().setFromMatrixPosition(matrix);
  const [across, out, down] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3()];
  matrix.extractBasis(across, out, down);
  const at = ray.intersectPlane(new THREE.Plane().setFromNormalAndCoplanarPoint(out, middle), new THREE.Vector3());
  if (!at) return null;
  at.sub(middle);
  return [at.dot(across), at.dot(down)];
}

/** One of those that a rule lays, as the server tells it. */
export interface SpreadOne {
  id: string;
  matrix: number[];
  width: number;
  height: number;
  reach: number;
  seed: number;
}

/**
 * One of those that a rule lays, taken out of the rule.
 *
 * @param keep whether it goes on as a decal of its own, where it is; its id is told then.
 */
export function takenOutOf(
  document: SiteDocument,
  row: number,
  one: SpreadOne,
  keep: boolean,
): { operations: Operation[]; own: string | null } {
  const rule = document.decals[row];
  const operations: Operation[] = [{ op: "add", path: `/decals/${row}/spread/removed/-`, value: one.id }];
  if (!keep) return { operations, own: null };
  const matrix = new THREE.Matrix4().set(...(one.matrix as Parameters<THREE.Matrix4["set"]>));
  const { width, height, reach, seed } = one;
  const own = {
    ...structuredClone(rule),
    ...lieOf(matrix, null),
    ...{ width, height, reach, seed },
    id: freshId("decal"),
    name: freshName(
      rule.name,
      document.decals.map(({ name }) => name),
    ),
    object: "",
    where: { cards: [], shared: "" },
    spread: { ...rule.spread, on: false, removed: [] },
  };
  // It lies directly above those that it was among.
  operations.push({ op: "add", path: `/decals/${row + 1}`, value: own });
  return { operations, own: own.id };
}

/** The least and greatest size of a box, metres. */
const SIZES = [0.005, 200] as const;
export const sized = (metres: number) => tidy(Math.min(SIZES[1], Math.max(SIZES[0], metres)), 3);

/** A size with its proportions kept, so that its corner is as far from its middle as a place on its plane. */
export function cornerAt<Size extends Pick<Lie, "width" | "height">>(
  lie: Size,
  [x, z]: [number, number],
  scale = 1,
): Size {
  const factor = (2 * Math.hypot(x, z)) / scale / Math.hypot(lie.width, lie.height);
  return { ...lie, width: sized(lie.width * factor), height: sized(lie.height * factor) };
}

/** The corners of the upright box about a decal's, in the world. */
function around(lie: Lie, frame: Frame): THREE.Box3 {
  const half = extentOf(lie, frame).multiplyScalar(0.5);
  return new THREE.Box3(half.clone().negate(), half).applyMatrix4(boxMatrix(lie, frame));
}

/** The surfaces of a scene that come near a decal's box: those that it may lie on. */
export function surfacesNear(decal: PlacedDecal, structures: Structure[], { surfaces }: SceneManifest): string[] {
  const box = around(decal, frameOf(structures, decal.object));
  return surfaces
    .filter(({ low, high, matrix }) => {
      const own = new THREE.Box3(new THREE.Vector3(...(low as Point)), new THREE.Vector3(...(high as Point)));
      return own
        .applyMatrix4(new THREE.Matrix4().set(...(matrix as Parameters<THREE.Matrix4["set"]>)))
        .intersectsBox(box);
    })
    .map(({ id }) => id)
    .filter((id) => !decal.skips.includes(id) && (!decal.only_object || id === (decal.object || "ground")));
}

/** A size that fills what is flat about its middle: as large as a surface's box, seen along the decal's own axis. */
export function filling(lie: Lie, frame: Frame, low: Point, high: Point, surface: THREE.Matrix4): Lie {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((k) =>
    new THREE.Vector3(k & 1 ? high[0] : low[0], k & 2 ? high[1] : low[1], k & 4 ? high[2] : low[2]).applyMatrix4(
      surface,
    ),
  );
  const matrix = boxMatrix(lie, frame);
  const back = matrix.clone().invert();
  const own = new THREE.Box3().setFromPoints(corners.map((corner) => corner.applyMatrix4(back)));
  const scale = frame?.size ?? 1;
  const [size, middle] = [own.getSize(new THREE.Vector3()), own.getCenter(new THREE.Vector3())];
  // It stays as near to the surface as it was.
  const at = new THREE.Vector3(middle.x, 0, middle.z).applyMatrix4(matrix);
  return {
    ...lieOf(matrix.clone().setPosition(at), frame),
    width: sized(size.x / scale),
    height: sized(size.z / scale),
    reach: lie.reach,
  };
}

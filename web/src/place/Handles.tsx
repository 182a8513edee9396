import { useFrame, useThree } from "@react-three/fiber";
import { useCallback, useEffect, useMemo, useRef } from "react";
import * as THREE from "three";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { type Held, useHeld } from "./held";
import type { Point, Shift } from "../site/poses";
import { gripping } from "../view/grips";
import { overlaid, overlayCaster } from "../view/overlay";
import { heightBelow, onLevel, onStem, pointerAt, surfacesOf, underPointer } from "../view/reach";

type Grip = "slide" | "turn" | "lift";

/** Share of the view's height that the handles take up. */
const SIZE = 0.11;
const RING = 1.15;
const STEM = 1.5;
/** Steps of a turn, degrees; none while Shift is held. */
const STEP = 5;
/** Things that stand at most this far above what is under them keep that distance when they slide. */
const NEAR = 0.6;

function lines(points: THREE.Vector3[], colour: string, pairs = false): THREE.Line {
  const geometry = new THREE.BufferGeometry().setFromPoints(points);
  const material = new THREE.LineBasicMaterial({
    color: colour,
    toneMapped: false,
    depthTest: false,
    transparent: true,
  });
  return pairs ? new THREE.LineSegments(geometry, material) : new THREE.LineLoop(geometry, material);
}

const onCircle = (radius: number, angle: number) =>
  new THREE.Vector3(Math.cos(angle) * radius, 0, Math.sin(angle) * radius);

function circle(radius: number, colour: string): THREE.Line {
  return lines(
    Array.from({ length: 64 }, (_, k) => onCircle(radius, (k / 64) * 2 * Math.PI)),
    colour,
  );
}

function solid(geometry: THREE.BufferGeometry, colour: string, opacity: number): THREE.Mesh {
  const material = new THREE.MeshBasicMaterial({
    color: colour,
    opacity,
    transparent: true,
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
    side: THREE.DoubleSide,
  });
  return new THREE.Mesh(geometry, material);
}

/** Rings on the water, a graduated circle about them, and a plumb line with its bob: slide, turn, lift. */
function handles(): THREE.Group {
  const group = new THREE.Group();
  const grip = (object: THREE.Object3D, name: Grip) => {
    object.userData.grip = name;
    group.add(object);
  };
  const disc = solid(new THREE.CircleGeometry(0.52, 40).rotateX(-Math.PI / 2), colours.water, 0.22);
  grip(disc, "slide");
  for (const radius of [0.18, 0.34, 0.52]) group.add(circle(radius, colours.water));
  const ticks: THREE.Vector3[] = [];
  for (let k = 0; k < 24; k++) {
    const angle = (k / 24) * 2 * Math.PI;
    ticks.push(onCircle(RING, angle), onCircle(RING + (k % 6 === 0 ? 0.2 : 0.09), angle));
  }
  group.add(circle(RING, colours.oxide), lines(ticks, colours.oxide, true));
  grip(solid(new THREE.RingGeometry(RING - 0.12, RING + 0.24, 48).rotateX(-Math.PI / 2), colours.oxide, 0.1), "turn");
  group.add(lines([new THREE.Vector3(), new THREE.Vector3(0, STEM, 0)], colours.moss, true));
  const bob = new THREE.ConeGeometry(0.13, 0.34, 12).rotateX(Math.PI).translate(0, STEM + 0.1, 0);
  grip(solid(bob, colours.moss, 0.9), "lift");
  group.traverse((one) => {
    one.renderOrder = 20;
    one.frustumCulled = false;
    // Nothing but the handles' own listener is to find them.
    if (!one.userData.grip) one.raycast = () => undefined;
  });
  return group;
}

/** Handles to slide, turn and lift what is picked. */
export function Handles() {
  const { gl, camera, scene, invalidate } = useThree();
  const current = useHeld();
  const active = current !== null;
  const pivot = useRef<Point>([0, 0, 0]);
  const grabbed = useRef<Grip | null>(null);
  if (current && !grabbed.current) pivot.current = current.pivot;
  const latest = useRef(current);
  latest.current = current;
  const group = useMemo(() => overlaid(handles()), []);

  useEffect(() => invalidate(), [current, invalidate]);
  const place = useCallback(() => {
    group.position.set(...pivot.current);
    const lens = camera as THREE.PerspectiveCamera;
    const away = camera.position.distanceTo(group.position);
    group.scale.setScalar(Math.max(0.02, 2 * away * Math.tan((lens.fov * Math.PI) / 360) * SIZE));
    group.updateMatrixWorld();
  }, [group, camera]);
  useFrame(() => {
    if (active) place();
  });

  useEffect(() => {
    if (!active) return;
    const caster = overlayCaster();
    let held: Held | null = null;
    let start: Point = [0, 0, 0];
    let angle = 0;
    let stem = 0;
    let lift = 0;
    let others: THREE.Object3D[] = [];
    let shift: Shift = { by: [0, 0, 0], turn: 0 };

    const gripAt = (event: PointerEvent): Grip | null => {
      // They may not have been drawn yet where they now are; where they were, nothing is to be grabbed.
      place();
      caster.setFromCamera(pointerAt(event, gl.domElement), camera);
      const hits = caster.intersectObject(group, true).map((hit) => hit.object.userData.grip as Grip);
      // The bob hangs before the rings, and these before the circle.
      return (["lift", "slide", "turn"] as const).find((grip) => hits.includes(grip)) ?? null;
    };
    const bearing = (event: PointerEvent): number => {
      const at = onLevel(pointerAt(event, gl.domElement), camera, start[1]);
      return at ? (-Math.atan2(at[2] - start[2], at[0] - start[0]) * 180) / Math.PI : angle;
    };
    const show = () => {
      held?.show(start, shift, others);
      pivot.current = start.map((value, axis) => value + shift.by[axis]) as Point;
      useView.setState((state) => ({ moved: state.moved + 1 }));
      gl.shadowMap.needsUpdate = true;
      invalidate();
    };
    const press = (event: PointerEvent) => {
      if (event.button !== 0 || event.target !== gl.domElement || !latest.current) return false;
      const grip = gripAt(event);
      if (!grip) return false;
      grabbed.current = grip;
      held = latest.current;
      start = held.pivot;
      shift = { by: [0, 0, 0], turn: 0 };
      const { snap } = useView.getState();
      others = surfacesOf(scene, new Set(held.surfaces), snap === "ground");
      const below = heightBelow(others, start);
      lift = below !== null && Math.abs(start[1] - below) < NEAR ? start[1] - below : 0;
      angle = bearing(event);
      stem = onStem(pointerAt(event, gl.domElement), camera, start);
      return true;
    };
    const slideTo = (event: PointerEvent): Point | null => {
      const at = pointerAt(event, gl.domElement);
      if (useView.getState().snap === "level") return onLevel(at, camera, start[1]);
      const hit = underPointer(at, camera, others);
      return hit && [hit[0], hit[1] + lift, hit[2]];
    };
    const move = (event: PointerEvent) => {
      if (!grabbed.current) {
        const grip = gripAt(event);
        gl.domElement.style.cursor = grip ? { slide: "move", turn: "grab", lift: "ns-resize" }[grip] : "";
        return false;
      }
      if (grabbed.current === "slide") {
        const to = slideTo(event);
        if (!to) return true;
        shift = { turn: 0, by: to.map((value, axis) => value - start[axis]) as Point };
      } else if (grabbed.current === "turn") {
        const turn = bearing(event) - angle;
        shift = { by: [0, 0, 0], turn: event.shiftKey ? turn : Math.round(turn / STEP) * STEP };
      } else {
        const up = onStem(pointerAt(event, gl.domElement), camera, start) - stem;
        shift = { by: [0, up, 0], turn: 0 };
      }
      show();
      return true;
    };
    const release = () => {
      if (!grabbed.current) return false;
      const grip = grabbed.current;
      grabbed.current = null;
      if (shift.turn === 0 && shift.by.every((value) => Math.abs(value) < 1e-4)) held?.leave();
      else held?.make({ slide: "Move", turn: "Turn", lift: "Lift" }[grip], start, shift, others);
      return true;
    };
    // Before an outline or a click on an item: what is grabbed here is neither.
    const letGo = gripping(gl.domElement.parentElement!, { press, move, release }, true);
    return () => {
      letGo();
      grabbed.current = null;
      gl.domElement.style.cursor = "";
    };
  }, [active, gl, camera, scene, group, place, invalidate]);

  return active ? <primitive object={group} /> : null;
}

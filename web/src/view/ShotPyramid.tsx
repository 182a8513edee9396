import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { Scatter, Shot } from "../api/client";
import { useDocument } from "../site/context";
import { useView } from "../site/store";
import { partColours } from "../theme/theme";
import { overlaid } from "./overlay";
import { pyramidOf, sharpFrom } from "./pyramid";

/** How much further than what it looks at a shot's edges are drawn; and how far the distance is drawn that goes on for ever, metres. */
const BEYOND = 1.25;
const FOR_EVER = 200;
/** From a lens one does not look through it any more, metres. */
const AWAY = 0.2;

/**
 * What the picked shot takes in, and what of it is in focus; of a scatter that keeps lenses clear, the part of each that it
 * keeps clear. Through the lens itself nothing is drawn: *Frame* marks the edge of the picture.
 */
export function ShotPyramid() {
  const { invalidate } = useThree();
  const { shots, planting } = useDocument();
  const picked = useView((state) => state.picked);
  const shot = picked?.part === "shots" ? shots.find((one) => one.id === picked.id) : undefined;
  const scatter = picked?.part === "planting" ? planting.find((one) => one.id === picked.id) : undefined;
  const lines = useMemo(() => {
    const made = [...(shot ? seenBy(shot) : []), ...(scatter ? keptClear(scatter, shots) : [])];
    return made.length ? overlaid(new THREE.Group().add(...made)) : null;
  }, [shot, scatter, shots]);
  useFrame(({ camera }) => {
    if (lines && shot) lines.visible = camera.position.distanceTo(pyramidOf(shot).apex) > AWAY;
  });
  useEffect(() => {
    invalidate();
    return () =>
      lines?.children.forEach((one) => {
        (one as THREE.Line).geometry.dispose();
        ((one as THREE.Line).material as THREE.Material).dispose();
      });
  }, [lines, invalidate]);
  return lines && <primitive object={lines} />;
}

function seenBy(shot: Shot): THREE.Line[] {
  const { apex, at, ahead } = pyramidOf(shot);
  const target = new THREE.Vector3(...(shot.target as [number, number, number]));
  const focus = new THREE.Vector3(...(shot.focus as [number, number, number]));
  const reach = BEYOND * Math.max(target.distanceTo(apex), shot.aperture ? ahead(focus) : 0);
  const sides = at(reach).flatMap((corner) => [apex, corner]);
  const sharp = sharpFrom(shot.lens, shot.aperture, ahead(focus));
  return [
    lined(sides),
    lined(outlined(at(reach))),
    ...(sharp
      ? [
          lined(outlined(at(ahead(focus)))),
          ...sharp.map((distance) => lined(outlined(at(Math.min(distance, FOR_EVER))), true)),
          lined(crossed(focus, ahead(focus) / 40)),
        ]
      : []),
  ];
}

function keptClear({ keep_clear }: Scatter, shots: Shot[]): THREE.Line[] {
  return keep_clear.flatMap((one) => {
    if (one.of !== "shot") return [];
    return shots
      .filter(({ id }) => !one.shots.length || one.shots.includes(id))
      .flatMap((shot) => {
        const { apex, at } = pyramidOf(shot);
        const corners = at(one.distance);
        return [lined(corners.flatMap((corner) => [apex, corner])), lined(outlined(corners))];
      });
  });
}

const outlined = (corners: THREE.Vector3[]) =>
  corners.flatMap((one, row) => [one, corners[(row + 1) % corners.length]]);

const crossed = ({ x, y, z }: THREE.Vector3, size: number) =>
  [
    [size, 0, 0],
    [0, size, 0],
    [0, 0, size],
  ].flatMap(([dx, dy, dz]) => [new THREE.Vector3(x - dx, y - dy, z - dz), new THREE.Vector3(x + dx, y + dy, z + dz)]);

/** Lines between pairs of points. */
function lined(points: THREE.Vector3[], dashed = false): THREE.LineSegments {
  const geometry = new THREE.BufferGeometry().setFromPoints(points);
  const look = { color: partColours.shots, toneMapped: false, depthTest: false };
  const made = new THREE.LineSegments(
    geometry,
    dashed
      ? new THREE.LineDashedMaterial({ ...look, dashSize: 0.15, gapSize: 0.1 })
      : new THREE.LineBasicMaterial(look),
  );
  if (dashed) made.computeLineDistances();
  made.raycast = () => undefined;
  made.renderOrder = 15;
  return made;
}

import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import * as THREE from "three";
import type { PlacedDecal } from "../api/client";
import { useChange, useDocument } from "../site/context";
import { handBusy, useView } from "../site/store";
import { colours } from "../theme/theme";
import { gripping } from "../view/grips";
import { overlaid, overlayCaster } from "../view/overlay";
import { hitUnder, pointerAt, surfacesOf } from "../view/reach";
import { boxMatrix, cornerAt, extentOf, frameOf, type Lie, lieOf, onPlane, onSurface, sized } from "../site/decalBox";
import { outline, outlined } from "./outline";

type Grip = "slide" | "size" | "width" | "height" | "spin" | "reach";

/** Share of the view's height that a grip takes up, and how far outside of the box the one that spins is, in grips. */
const SIZE = 0.012;
const ASIDE = 4;
/** Steps of a spin, degrees; none while Shift is held. */
const STEP = 5;
const VERBS: Record<Grip, string> = {
  slide: "move", size: "size", width: "width", height: "height", spin: "spin", reach: "reach",
}; // prettier-ignore

/** Where each grip is, in halves of the box along its own axes. */
const PLACES: { grip: Grip; at: [number, number, number] }[] = [
  { grip: "slide", at: [0, 0, 0] },
  ...([-1, 1] as const).flatMap((x) =>
    ([-1, 1] as const).map((z) => ({ grip: "size" as Grip, at: [x, 0, z] as [number, number, number] })),
  ),
  { grip: "width", at: [1, 0, 0] },
  { grip: "width", at: [-1, 0, 0] },
  { grip: "height", at: [0, 0, 1] },
  { grip: "spin", at: [0, 0, -1] },
  { grip: "reach", at: [0, 1, 0] },
];
const COLOURS: Record<Grip, string> = {
  slide: colours.water, size: colours.water, width: colours.water, height: colours.water, spin: colours.oxide, reach: colours.moss,
}; // prettier-ignore

function grips(): THREE.Mesh[] {
  const [round, square] = [new THREE.SphereGeometry(1, 16, 12), new THREE.BoxGeometry(1.5, 1.5, 1.5)];
  return PLACES.map(({ grip }) => {
    const material = new THREE.MeshBasicMaterial({
      color: COLOURS[grip],
      depthTest: false,
      toneMapped: false,
      transparent: true,
    });
    const mesh = new THREE.Mesh(grip === "size" || grip === "width" || grip === "height" ? square : round, material);
    mesh.userData.grip = grip;
    mesh.renderOrder = 21;
    mesh.frustumCulled = false;
    return overlaid(mesh);
  });
}

/** The box of the picked decal, with grips that slide it over surfaces, size it, spin it, and set how far it goes. */
export function DecalBox() {
  const { gl, camera, scene, invalidate } = useThree();
  const change = useChange();
  const document = useDocument();
  const id = useView(({ picked }) => (picked?.part === "decals" ? picked.id : undefined));
  const busy = useView((state) => handBusy(state) || state.showing === "still");
  const index = document.decals.findIndex((one) => one.id === id);
  const decal: PlacedDecal | undefined = document.decals[index];
  const active = decal !== undefined && !busy && decal.shown && !decal.spread.on;
  const latest = useRef({ decal, index, structures: document.structures });
  latest.current = { decal, index, structures: document.structures };
  const box = useMemo(outline, []);
  const held = useMemo(grips, []);
  useEffect(() => invalidate(), [decal, active, invalidate]);

  const place = useMemo(
    () => () => {
      const { decal: now, structures } = latest.current;
      if (!now) return;
      const frame = frameOf(structures, now.object);
      const matrix = boxMatrix(now, frame);
      const size = extentOf(now, frame);
      outlined(box, matrix, size);
      const lens = camera as THREE.PerspectiveCamera;
      held.forEach((mesh, row) => {
        const { at, grip } = PLACES[row];
        const own = new THREE.Vector3(...at).multiply(size).multiplyScalar(0.5);
        mesh.position.copy(own.clone().applyMatrix4(matrix));
        const radius = 2 * camera.position.distanceTo(mesh.position) * Math.tan((lens.fov * Math.PI) / 360) * SIZE;
        if (grip === "spin") mesh.position.copy(own.setZ(own.z - ASIDE * radius).applyMatrix4(matrix));
        mesh.scale.setScalar(radius);
        mesh.quaternion.setFromRotationMatrix(matrix);
        mesh.visible = !now.locked;
        mesh.updateMatrixWorld();
      });
    },
    [box, held, camera],
  );
  useFrame(() => {
    box.visible = active;
    if (active) place();
  });

  useEffect(() => {
    if (!active) return;
    const caster = overlayCaster();
    const ray = new THREE.Raycaster();
    let grabbed: Grip | null = null;
    let start = 0;
    let moved = false;
    const gripAt = (event: PointerEvent): Grip | null => {
      place();
      if (latest.current.decal?.locked) return null;
      caster.setFromCamera(pointerAt(event, gl.domElement), camera);
      const hits = caster.intersectObjects(held, false).map((hit) => hit.object.userData.grip as Grip);
      return (
        (["size", "spin", "width", "height", "reach", "slide"] as const).find((grip) => hits.includes(grip)) ?? null
      );
    };
    const angleOf = (at: [number, number]) => Math.atan2(-at[1], at[0]);
    const lieAt = (event: PointerEvent): Partial<Lie> | null => {
      const { decal: now, structures } = latest.current;
      if (!now || !grabbed) return null;
      const frame = frameOf(structures, now.object);
      const by = frame?.size ?? 1;
      const matrix = boxMatrix(now, frame);
      const pointer = pointerAt(event, gl.domElement);
      if (grabbed === "slide") {
        const hit = hitUnder(pointer, camera, surfacesOf(scene, new Set()));
        if (!hit) return null;
        const up = new THREE.Vector3().setFromMatrixColumn(matrix, 2).negate();
        return lieOf(onSurface(hit.point, hit.normal, camera.getWorldDirection(new THREE.Vector3()), up), frame);
      }
      ray.setFromCamera(pointer, camera);
      if (grabbed === "reach") {
        const middle = new THREE.Vector3().setFromMatrixPosition(matrix);
        const out = new THREE.Vector3().setFromMatrixColumn(matrix, 1);
        const near = new THREE.Vector3();
        const far = 1000;
        ray.ray.distanceSqToSegment(middle, middle.clone().addScaledVector(out, far), undefined, near);
        return { reach: sized((2 * near.sub(middle).length()) / by) };
      }
      const at = onPlane(ray.ray, matrix);
      if (!at) return null;
      if (grabbed === "size") return cornerAt({ width: now.width, height: now.height }, at, by);
      if (grabbed === "width") return { width: sized((2 * Math.abs(at[0])) / by) };
      if (grabbed === "height") return { height: sized((2 * Math.abs(at[1])) / by) };
      const turned = ((angleOf(at) - Math.PI / 2) * 180) / Math.PI;
      const spin = now.spin + turned;
      const whole = event.shiftKey ? spin : Math.round(spin / STEP) * STEP;
      return { spin: Number((((((whole + 180) % 360) + 360) % 360) - 180).toFixed(2)) };
    };
    const press = (event: PointerEvent) => {
      if (event.button !== 0 || event.target !== gl.domElement) return false;
      grabbed = gripAt(event);
      moved = false;
      start = event.clientX + event.clientY;
      return grabbed !== null;
    };
    const move = (event: PointerEvent) => {
      if (!grabbed) {
        const grip = gripAt(event);
        gl.domElement.style.cursor = grip
          ? {
              slide: "move",
              spin: "grab",
              reach: "ns-resize",
              size: "nwse-resize",
              width: "ew-resize",
              height: "ns-resize",
            }[grip]
          : "";
        return false;
      }
      moved ||= Math.abs(event.clientX + event.clientY - start) > 1;
      const next = moved ? lieAt(event) : null;
      const { decal: now, index: row } = latest.current;
      if (next && now)
        change.live(
          `${now.name}: ${VERBS[grabbed]}`,
          Object.entries(next).map(([field, value]) => ({
            op: "replace" as const,
            path: `/decals/${row}/${field}`,
            value,
          })),
        );
      return true;
    };
    const release = () => {
      if (!grabbed) return false;
      grabbed = null;
      if (moved) change.settle();
      return true;
    };
    const letGo = gripping(gl.domElement.parentElement!, { press, move, release }, true);
    return () => {
      letGo();
      gl.domElement.style.cursor = "";
      if (grabbed && moved) change.settle();
    };
  }, [active, gl, camera, scene, held, place, change]);

  return (
    <>
      <primitive object={box} />
      {active && held.map((mesh, row) => <primitive key={row} object={mesh} />)}
    </>
  );
}

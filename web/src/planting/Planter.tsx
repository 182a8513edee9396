import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import { gripping } from "../view/grips";
import { overlaid } from "../view/overlay";
import { pointerAt, surfacesOf, underPointer } from "../view/reach";
import { useSiteContext } from "../site/context";
import { itemToolIn } from "../site/inHand";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { idOf, inLoop, placedOf, plantOne } from "./hand";

/** Pixels from an item within which a click picks it. */
const NEAR = 18;

/** Sets items down one by one, and picks placed ones by a click or an outline. Shows what is picked. */
export function Planter() {
  const { editor, stage } = useSiteContext();
  const { gl, camera, scene, invalidate } = useThree();
  const tool = useView(itemToolIn);
  const placed = useView((state) => state.placed);
  const picked = useView((state) => state.picked);
  const table = useView((state) => state.tableTicket);
  const layerId = tool?.layer ?? (picked?.part === "planting" ? picked.id : undefined);

  const marks = useMemo(() => {
    const placements = layerId ? stage.placed.get(layerId) : undefined;
    if (!placements || !placed.length) return null;
    const points = placedOf(placements, placed).map(({ position: [x, y, z] }) => new THREE.Vector3(x, y + 0.05, z));
    const geometry = new THREE.BufferGeometry().setFromPoints(points);
    const material = new THREE.PointsMaterial({
      color: colours.water,
      size: 11,
      sizeAttenuation: false,
      toneMapped: false,
      depthTest: false,
    });
    const made = new THREE.Points(geometry, material);
    made.raycast = () => undefined;
    made.renderOrder = 20;
    made.frustumCulled = false;
    return overlaid(made);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the table is looked up anew when it has changed
  }, [placed, layerId, table]);
  useEffect(() => invalidate(), [marks, invalidate]);

  useEffect(() => {
    if (!tool) return;
    const frame = gl.domElement.parentElement!;
    let down: [number, number] | null = null;
    let loop: [number, number][] = [];
    const overlay = outlineOver(frame);
    /** Where an item is seen on the page; null behind the camera. */
    const spot = new THREE.Vector3();
    const onPage = (position: Float32Array, row: number): [number, number] | null => {
      const box = gl.domElement.getBoundingClientRect();
      spot.set(position[row * 3], position[row * 3 + 1] + 0.08, position[row * 3 + 2]).project(camera);
      if (spot.z > 1) return null;
      return [box.left + ((spot.x + 1) / 2) * box.width, box.top + ((1 - spot.y) / 2) * box.height];
    };
    const pickAt = (x: number, y: number, also: boolean) => {
      const placements = stage.placed.get(tool.layer);
      if (!placements) return;
      let best = -1;
      let least = NEAR;
      for (let row = 0; row < placements.item.length; row++) {
        const at = onPage(placements.position, row);
        const away = at ? Math.hypot(at[0] - x, at[1] - y) : Infinity;
        if (away < least) [best, least] = [row, away];
      }
      const now = useView.getState().placed;
      const id = best >= 0 ? idOf(placements, best) : null;
      const next = !id ? [] : !also ? [id] : now.includes(id) ? now.filter((one) => one !== id) : [...now, id];
      useView.setState({ placed: next });
    };
    const pickInside = (also: boolean) => {
      const placements = stage.placed.get(tool.layer);
      if (!placements) return;
      const found: string[] = also ? [...useView.getState().placed] : [];
      for (let row = 0; row < placements.item.length && found.length < 5000; row++) {
        const at = onPage(placements.position, row);
        if (at && inLoop(at, loop)) found.push(idOf(placements, row));
      }
      useView.setState({ placed: [...new Set(found)] });
    };
    const press = (event: PointerEvent) => {
      if (event.button !== 0 || event.target !== gl.domElement) return false;
      down = [event.clientX, event.clientY];
      if (tool.tool !== "loop") return false;
      // While an outline is drawn the camera stays where it is.
      loop = [down];
      return true;
    };
    const move = (event: PointerEvent) => {
      if (tool.tool !== "loop" || !down) return false;
      loop.push([event.clientX, event.clientY]);
      overlay.draw(loop);
      return true;
    };
    const cancel = () => {
      down = null;
      loop = [];
      overlay.draw([]);
      return false;
    };
    const release = (event: PointerEvent) => {
      if (!down) return false;
      const still = Math.hypot(event.clientX - down[0], event.clientY - down[1]) < 4;
      down = null;
      overlay.draw([]);
      if (tool.tool === "loop") {
        if (loop.length > 2) pickInside(event.shiftKey);
        return true;
      } else if (still && tool.tool === "pick") pickAt(event.clientX, event.clientY, event.shiftKey);
      else if (still) {
        const at = underPointer(pointerAt(event, gl.domElement), camera, surfacesOf(scene, new Set()));
        const layers = editor.state()!.document.planting;
        const index = layers.findIndex((one) => one.id === tool.layer);
        if (at && index >= 0)
          editor.commit(`${layers[index].name}: plant one`, plantOne(layers[index], `/planting/${index}`, at));
      }
      return false;
    };
    const letGo = gripping(frame, { press, move, release, cancel });
    return () => {
      letGo();
      overlay.remove();
    };
  }, [tool, gl, camera, scene, editor, stage]);

  return marks && <primitive object={marks} />;
}

/** A line over the view that follows the pointer. */
function outlineOver(frame: HTMLElement) {
  const svg = window.document.createElementNS("http://www.w3.org/2000/svg", "svg");
  svg.setAttribute("style", "position:fixed;inset:0;width:100vw;height:100vh;pointer-events:none;z-index:5");
  const line = window.document.createElementNS("http://www.w3.org/2000/svg", "polygon");
  line.setAttribute("fill", `${colours.water}22`);
  line.setAttribute("stroke", colours.water);
  line.setAttribute("stroke-dasharray", "5 3");
  svg.append(line);
  frame.append(svg);
  return {
    draw: (points: [number, number][]) => line.setAttribute("points", points.map((point) => point.join(",")).join(" ")),
    remove: () => svg.remove(),
  };
}

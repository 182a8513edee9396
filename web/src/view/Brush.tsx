import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import * as THREE from "three";
import { postPack } from "../api/queries";
import { useDocument, useSiteContext } from "../site/context";
import { brushIn } from "../site/inHand";
import { useView } from "../site/store";
import { applyHeights, withPoint } from "./brushing";
import { gripping } from "./grips";
import { useRing } from "./useRing";

const RING = 72;

/** The brush on the ground: a ring that lies on it, and strokes while the pointer is down. */
export function Brush() {
  const { siteId, editor } = useSiteContext();
  const { gl, camera, scene, invalidate } = useThree();
  const brush = useView(brushIn);
  const document = useDocument();
  const latest = useRef({ brush, document });
  latest.current = { brush, document };

  const ring = useRing(RING);

  useEffect(() => {
    if (!brush || brush.strokes) {
      ring.visible = false;
      invalidate();
      return;
    }
    const caster = new THREE.Raycaster();
    const down = new THREE.Raycaster();
    const below = new THREE.Vector3(0, -1, 0);
    let path: [number, number][] = [];
    let level = 0;
    let drawing = false;
    let asking = false;
    let stale = false;
    const gesture = { id: "" };
    const ground = () => scene.getObjectByName("ground") as THREE.Mesh | undefined;

    const hit = (event: PointerEvent): THREE.Vector3 | null => {
      const box = gl.domElement.getBoundingClientRect();
      const at = new THREE.Vector2(
        ((event.clientX - box.left) / box.width) * 2 - 1,
        1 - ((event.clientY - box.top) / box.height) * 2,
      );
      caster.setFromCamera(at, camera);
      const object = ground();
      return object ? (caster.intersectObject(object, false)[0]?.point ?? null) : null;
    };
    const showRing = (at: THREE.Vector3 | null) => {
      ring.visible = at !== null;
      const object = ground();
      if (at && object) {
        const { radius } = latest.current.brush!;
        const position = ring.geometry.getAttribute("position") as THREE.BufferAttribute;
        for (let i = 0; i < RING; i++) {
          const angle = (i / RING) * Math.PI * 2;
          const [x, z] = [at.x + Math.cos(angle) * radius, at.z + Math.sin(angle) * radius];
          down.set(new THREE.Vector3(x, at.y + 60, z), below);
          const y = down.intersectObject(object, false)[0]?.point.y ?? at.y;
          position.setXYZ(i, x, y + 0.03, z);
        }
        position.needsUpdate = true;
      }
      invalidate();
    };
    const stroke = () => {
      const { radius, strength, soft } = latest.current.brush!;
      const tool = latest.current.brush!.tool;
      return { tool, radius, strength, soft, level, path };
    };
    const paintOperations = () => {
      const { tool, radius, strength, soft, paints } = latest.current.brush!;
      const row = latest.current.document.ground.paints.findIndex((one) => one.id === paints);
      if (row < 0) return null;
      // The saved strokes and this one: sent again while it grows, it must not be added twice.
      const saved = editor.state()!.document.ground.paints[row].strokes.slice(0, savedStrokes);
      const added = { adds: tool === "paint", radius, strength: Math.min(1, strength), soft, path };
      return [{ op: "replace" as const, path: `/ground/paints/${row}/strokes`, value: [...saved, added] }];
    };
    let savedStrokes = 0;
    const show = async () => {
      if (asking) {
        stale = true;
        return;
      }
      asking = true;
      do {
        stale = false;
        await editor.idle();
        const asked = performance.now();
        try {
          const pack = await postPack<{ window: [number, number, number, number]; shape: [number, number] }>(
            `/api/sites/${siteId}/ground/stroke`,
            stroke(),
          );
          const object = ground();
          if (!object || !drawing) break;
          const { size } = latest.current.document.ground;
          const position = object.geometry.getAttribute("position") as THREE.BufferAttribute;
          applyHeights(position, size, pack.meta.shape, pack.meta.window, pack.arrays.heights.data as Float32Array);
          object.geometry.computeVertexNormals();
          // The next stroke, and the ring, meet the ground as it has become.
          object.geometry.boundsTree?.refit();
          object.geometry.computeBoundingSphere();
          performance.mark("cenote-dab", { detail: { asked } });
          invalidate();
        } catch (error) {
          useView.getState().set({ notice: { tone: "error", text: (error as Error).message } });
          break;
        }
      } while (stale);
      asking = false;
    };
    const work = () => {
      const { tool } = latest.current.brush!;
      if (tool === "paint" || tool === "unpaint") {
        const operations = paintOperations();
        if (operations) editor.draft({ gesture: gesture.id, label: "Paint the ground", operations });
      } else void show();
    };
    const press = (event: PointerEvent) => {
      if (event.button !== 0 || event.target !== gl.domElement) return false;
      const at = hit(event);
      if (!at) return false;
      drawing = true;
      gesture.id = crypto.randomUUID();
      level = Number(at.y.toFixed(3));
      const { paints } = latest.current.brush!;
      savedStrokes = latest.current.document.ground.paints.find((one) => one.id === paints)?.strokes.length ?? 0;
      path = withPoint([], at.x, at.z, latest.current.brush!.radius);
      work();
      return true;
    };
    const move = (event: PointerEvent) => {
      const at = hit(event);
      showRing(at);
      if (!drawing || !at) return drawing;
      const longer = withPoint(path, at.x, at.z, latest.current.brush!.radius);
      if (longer === path || longer.length > 600) return true;
      path = longer;
      work();
      return true;
    };
    const release = () => {
      if (!drawing) return false;
      drawing = false;
      const { tool } = latest.current.brush!;
      if (tool === "paint" || tool === "unpaint") editor.settle();
      else editor.commit(`Ground: ${tool}`, [{ op: "add", path: "/ground/strokes/-", value: stroke() }]);
      path = [];
      return true;
    };
    return gripping(gl.domElement.parentElement!, { press, move, release });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- values of the brush are read from the latest one
  }, [brush !== null && !brush.strokes, gl, camera, scene, editor, siteId, ring, invalidate]);

  return <primitive object={ring} />;
}

import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import * as THREE from "three";
import { holding } from "../site/inHand";
import { useView } from "../site/store";
import { gripping } from "./grips";
import { heightBelow, surfacesOf } from "./reach";
import { EYE, isWalkKey, looked, stand, STEP_UP, walked, walkerAt } from "./walking";

/** What moves the camera otherwise. */
interface Orbit extends THREE.EventDispatcher<{ start: object; end: object }> {
  target: THREE.Vector3;
  enabled: boolean;
}

/** Walking at the height of an eye: keys go and turn, a drag looks about. Page up and down change the height, as far as flying. */
export function Walk() {
  const walking = useView((state) => holding(state, "walk") !== null);
  const { gl, camera, scene, invalidate } = useThree();
  const controls = useThree((state) => state.controls) as Orbit | null;
  useEffect(() => {
    if (!walking || !controls) return;
    const element = gl.domElement.parentElement!.parentElement!;
    const surfaces = surfacesOf(scene, new Set());
    const below = (x: number, z: number, from: number) => heightBelow(surfaces, [x, from, z], from);
    const { position } = camera;
    let ground = below(position.x, position.z, position.y) ?? 0;
    let walker = walkerAt(position, controls.target, ground);
    const held = new Set<string>();
    let hurries = false;
    let frame = 0;
    let last = 0;
    let drag: [number, number] | null = null;
    const show = () => {
      // What one can step onto carries; what is higher one goes below, or through.
      ground = below(walker.x, walker.z, ground + STEP_UP + Math.max(0, walker.eye - EYE.usual)) ?? ground;
      stand(walker, ground, camera, controls.target);
      invalidate();
    };
    const step = (now: number) => {
      walker = walked(walker, held, Math.min(0.3, (now - last) / 1000), hurries);
      last = now;
      show();
      frame = held.size ? requestAnimationFrame(step) : 0;
      if (!frame) controls.dispatchEvent({ type: "end" });
    };
    const down = (event: KeyboardEvent) => {
      if (!isWalkKey(event.key) || event.ctrlKey || event.metaKey || event.altKey) return;
      event.preventDefault();
      event.stopPropagation();
      held.add(event.key.toLowerCase());
      hurries = event.shiftKey;
      if (frame) return;
      last = performance.now();
      controls.dispatchEvent({ type: "start" });
      frame = requestAnimationFrame(step);
    };
    const up = (event: KeyboardEvent) => {
      held.delete(event.key.toLowerCase());
      hurries = event.shiftKey;
    };
    const rest = () => held.clear();
    const letGo = gripping(gl.domElement.parentElement!, {
      press: (event) => {
        if (event.button !== 0 || event.target !== gl.domElement) return false;
        drag = [event.clientX, event.clientY];
        element.focus();
        controls.dispatchEvent({ type: "start" });
        return true;
      },
      move: (event) => {
        if (!drag) return false;
        walker = looked(walker, event.clientX - drag[0], event.clientY - drag[1]);
        drag = [event.clientX, event.clientY];
        show();
        return true;
      },
      release: () => {
        if (!drag) return false;
        drag = null;
        controls.dispatchEvent({ type: "end" });
        return true;
      },
    });
    controls.enabled = false;
    element.addEventListener("keydown", down, true);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", rest);
    element.focus();
    show();
    return () => {
      cancelAnimationFrame(frame);
      letGo();
      if (held.size || drag) controls.dispatchEvent({ type: "end" });
      controls.enabled = true;
      element.removeEventListener("keydown", down, true);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", rest);
    };
  }, [walking, controls, gl, camera, scene, invalidate]);
  return null;
}

import { useFrame, useThree } from "@react-three/fiber";
import { useEffect } from "react";
import * as THREE from "three";
import { holdUpright, type Lens, tangentOf } from "./lens";

/** Gives the camera the lens of the shot that it stands in, and keeps walls upright where that asks for it. */
export function CameraLens({ lens }: { lens: Lens }) {
  const { camera, size, invalidate } = useThree();
  const controls = useThree((state) => state.controls) as { target?: THREE.Vector3 } | null;
  useEffect(() => {
    const seen = camera as THREE.PerspectiveCamera;
    seen.fov = (Math.atan(tangentOf(lens, size.width / size.height)) * 360) / Math.PI;
    seen.updateProjectionMatrix();
    invalidate();
  }, [camera, size, lens, invalidate]);
  // After the camera was moved, before anything is drawn.
  useFrame(() => {
    if (controls?.target) holdUpright(camera as THREE.PerspectiveCamera, controls.target, lens.upright, size);
  }, 0.5);
  return null;
}

import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import * as THREE from "three";
import { uniformsOf } from "./uniforms";

interface WaterProps {
  water: { level: number; clarity: number; colour: number[] };
  low: number[];
  high: number[];
  /** Corners along x and z of water in a hollow; without them it stands over the whole site. */
  outline?: number[][];
}

/** Standing water. */
export function WaterPlane({ water, low, high, outline }: WaterProps) {
  const ripples = useMemo(() => {
    const size = 128;
    const data = new Uint8Array(size * size * 4);
    const wave = (x: number, y: number) =>
      [
        [3, 1, 0.5],
        [1, 4, 1.7],
        [5, -2, 2.9],
        [-3, 6, 0.3],
        [8, 5, 4.1],
      ].reduce(
        (sum, [a, b, phase]) => sum + Math.sin(((a * x + b * y) / size) * 2 * Math.PI + phase) / Math.hypot(a, b),
        0,
      );
    for (let y = 0; y < size; y++)
      for (let x = 0; x < size; x++) {
        const normal = new THREE.Vector3(
          wave(x - 1, y) - wave(x + 1, y),
          wave(x, y - 1) - wave(x, y + 1),
          2,
        ).normalize();
        data.set([normal.x * 127 + 128, normal.y * 127 + 128, normal.z * 127 + 128, 255], (y * size + x) * 4);
      }
    const texture = new THREE.DataTexture(data, size, size);
    texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
    texture.repeat.set((high[0] - low[0]) / 5, (high[2] - low[2]) / 5);
    texture.magFilter = THREE.LinearFilter;
    texture.minFilter = THREE.LinearMipmapLinearFilter;
    texture.generateMipmaps = true;
    texture.needsUpdate = true;
    return texture;
  }, [low, high]);
  const scene = useThree((state) => state.scene);
  const material = useRef<THREE.MeshPhongMaterial>(null);
  // The sky comes after the water, and anew whenever the light is changed.
  useFrame(() => {
    const { value } = uniformsOf(scene).sky.around;
    if (!material.current || material.current.envMap === value) return;
    material.current.envMap = value;
    material.current.needsUpdate = true;
  });
  useEffect(() => () => ripples.dispose(), [ripples]);
  const pool = useMemo(() => {
    if (!outline?.length) return null;
    const made = new THREE.ShapeGeometry(new THREE.Shape(outline.map(([x, z]) => new THREE.Vector2(x, -z))));
    // Its texture coordinates come in metres; ripples repeat as on the whole site.
    const uv = made.getAttribute("uv");
    const [wide, deep] = [high[0] - low[0], high[2] - low[2]];
    for (let i = 0; i < uv.count; i++) uv.setXY(i, uv.getX(i) / wide, uv.getY(i) / deep);
    return made;
  }, [outline, low, high]);
  useEffect(() => () => pool?.dispose(), [pool]);
  const [r, g, b] = water.colour;
  const colour = useMemo(() => new THREE.Color().setRGB(r, g, b, THREE.LinearSRGBColorSpace), [r, g, b]);
  return (
    <mesh
      position={[pool ? 0 : (low[0] + high[0]) / 2, water.level, pool ? 0 : (low[2] + high[2]) / 2]}
      rotation={[-Math.PI / 2, 0, 0]}
      receiveShadow
      raycast={() => undefined}
    >
      {pool ? (
        <primitive object={pool} attach="geometry" />
      ) : (
        <planeGeometry args={[high[0] - low[0], high[2] - low[2]]} />
      )}
      <meshPhongMaterial
        ref={material}
        color={colour}
        combine={THREE.MixOperation}
        reflectivity={0.32}
        shininess={120}
        specular="#998f7c"
        normalMap={ripples}
        normalScale={new THREE.Vector2(0.16, 0.16)}
        transparent
        opacity={Math.max(0.35, Math.min(0.97, 1.05 - 0.16 * water.clarity))}
      />
    </mesh>
  );
}

import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import { useView } from "../../site/store";
import { usePack } from "../../api/queries";
import { useUniforms } from "../uniforms";
import type { Mirrored, Water } from "./body";
import { type FoamMeta, layFoam, noFoam } from "./foam";
import { waterMaterial } from "./material";
import { asBody } from "./waters";

interface WaterProps {
  water: Water;
  low: number[];
  high: number[];
  /** Corners along x and z of water in a hollow; without them it stands over the whole site. */
  outline?: number[][];
  /** Where the map of its foam is asked for; null where it has none. */
  foam: string | null;
  /** How much of its foam there is, from 0 to 1. */
  foams: number;
}

/** A level shape with a corner at each of some places along x and z. */
function levelShape(outline: number[][]): THREE.BufferGeometry {
  const made = new THREE.ShapeGeometry(new THREE.Shape(outline.map(([x, z]) => new THREE.Vector2(x, -z))));
  return made.rotateX(-Math.PI / 2);
}

/** Standing water: by the light that it mirrors and lets through, or as a plain sheet where colours or masks are shown. */
export function WaterPlane({ water, low, high, outline, foam, foams }: WaterProps) {
  const lit = useView((state) => state.showing === "lit" && !state.peeking);
  const geometry = useMemo(() => {
    const [west, east, north, south] = [low[0], high[0], low[2], high[2]];
    const around = [[west, south], [east, south], [east, north], [west, north]]; // prettier-ignore
    return levelShape(outline?.length ? outline : around);
  }, [low, high, outline]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return lit ? (
    <Lit water={water} geometry={geometry} foam={foam} foams={foams} />
  ) : (
    <Plain water={water} geometry={geometry} />
  );
}

interface SheetProps {
  water: Water;
  geometry: THREE.BufferGeometry;
}

function Lit({ water, geometry, foam, foams }: SheetProps & Pick<WaterProps, "foam" | "foams">) {
  const uniforms = useUniforms();
  const invalidate = useThree((state) => state.invalidate);
  const [r, g, b] = water.colour;
  const { level, clarity } = water;
  const pack = usePack<FoamMeta>(foam).data;
  const { material, mirrored, floating } = useMemo(() => {
    const floating = noFoam();
    const mirrored: Mirrored = {
      mirror: { value: null },
      toMirror: { value: new THREE.Matrix4() },
      mirrors: { value: 0 },
    };
    return {
      mirrored,
      floating,
      material: waterMaterial({ level, clarity, colour: [r, g, b] }, uniforms, mirrored, floating),
    };
  }, [level, clarity, r, g, b, uniforms]);
  const mesh = useMemo(() => {
    const made = new THREE.Mesh(geometry, material);
    made.receiveShadow = true;
    made.position.y = level;
    made.raycast = () => undefined;
    asBody(made);
    return made;
  }, [geometry, material, level]);
  useEffect(() => {
    const body = { mesh, level, mirrored };
    uniforms.water.bodies.add(body);
    invalidate();
    return () => void uniforms.water.bodies.delete(body);
  }, [uniforms, mesh, level, mirrored, invalidate]);
  useEffect(() => () => material.dispose(), [material]);
  useEffect(() => {
    if (!pack) return undefined;
    const off = layFoam(floating, pack, foams);
    invalidate();
    return off;
  }, [pack, floating, foams, invalidate]);
  return <primitive object={mesh} />;
}

function Plain({ water: { level, colour, clarity }, geometry }: SheetProps) {
  const [r, g, b] = colour;
  const shown = useMemo(() => new THREE.Color().setRGB(r, g, b, THREE.LinearSRGBColorSpace), [r, g, b]);
  return (
    <mesh geometry={geometry} position={[0, level, 0]} raycast={() => undefined}>
      <meshBasicMaterial color={shown} transparent opacity={Math.max(0.35, Math.min(0.97, 1.05 - 0.16 * clarity))} />
    </mesh>
  );
}

import Box from "@mui/material/Box";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { OrbitControls } from "@react-three/drei";
import { Canvas, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useState } from "react";
import * as THREE from "three";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { drawnByProcessor } from "../site/machine";
import { useBaked, type BakedTextures } from "./baked";
import { type Entry, variantSeeds } from "./recipes";

type Shape = "tile" | "wall" | "sphere";
const SHAPES: { shape: Shape; label: string }[] = [
  { shape: "wall", label: "Wall" },
  { shape: "tile", label: "Flat tile" },
  { shape: "sphere", label: "Sphere" },
];

/** A material in light: on a wall of real size, as one flat tile, or on a sphere; one variant or four side by side. */
export function MaterialPreview({ entry }: { entry: Entry }) {
  const [shape, setShape] = useState<Shape>("wall");
  const [compare, setCompare] = useState(false);
  const dragging = useView((state) => state.draft !== null);
  const seed = entry.recipe?.seed ?? 0;
  const seeds = compare && entry.recipe ? variantSeeds(seed) : [seed];
  const baked = useBaked(entry, seeds, compare || dragging ? 256 : 512);
  return (
    <Box sx={{ position: "relative", background: colours.surround, minHeight: 0 }}>
      <Canvas
        frameloop="demand"
        dpr={drawnByProcessor ? 1 : Math.min(window.devicePixelRatio, 2)}
        gl={{ toneMapping: THREE.NeutralToneMapping, preserveDrawingBuffer: true }}
        camera={{ fov: 30, position: [0.9, 0.7, 5.4] }}
        role="img"
        aria-label={`${entry.title} in light`}
      >
        <hemisphereLight args={["#cfdbe6", "#6f675c", 1.7]} />
        <directionalLight position={[-4, 4.2, 5]} intensity={2.6} color="#fff2df" />
        <directionalLight position={[5, 1, 2]} intensity={0.5} color="#bcd0e6" />
        {baked?.variants.map((textures, row) => (
          <Sample
            key={`${row}-${shape}`}
            textures={textures}
            size={baked.size}
            shape={shape}
            place={placeOf(row, baked.variants.length)}
          />
        ))}
        <OrbitControls makeDefault enableDamping={false} minDistance={0.6} maxDistance={12} />
      </Canvas>
      <Box sx={{ position: "absolute", left: 10, top: 10, display: "flex", gap: 1 }}>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={shape}
          onChange={(_, next: Shape | null) => next && setShape(next)}
          aria-label="Shown on"
          sx={{ background: `${colours.pale}f2` }}
        >
          {SHAPES.map((one) => (
            <ToggleButton key={one.shape} value={one.shape} sx={{ textTransform: "none", px: 1.25, py: 0.25 }}>
              {one.label}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        {entry.recipe && (
          <ToggleButton
            value="compare"
            size="small"
            selected={compare}
            onChange={() => setCompare(!compare)}
            sx={{ textTransform: "none", px: 1.25, py: 0.25, background: `${colours.pale}f2` }}
          >
            Four variants
          </ToggleButton>
        )}
      </Box>
      <Typography
        variant="caption"
        sx={{ position: "absolute", left: 10, bottom: 8, background: `${colours.pale}e6`, px: 1, borderRadius: 0.5 }}
      >
        {baked
          ? `A tile is ${baked.size.toLocaleString("en-GB")} m wide. ${compare && entry.recipe ? `Seeds ${seeds.join(", ")}, from left to right.` : ""}`
          : "Baking …"}
      </Typography>
    </Box>
  );
}

function placeOf(row: number, count: number): { at: [number, number, number]; scale: number } {
  if (count === 1) return { at: [0, 0, 0], scale: 1 };
  return { at: [(row - (count - 1) / 2) * 1.02, 0, 0], scale: 0.48 };
}

interface SampleProps {
  textures: BakedTextures;
  size: number;
  shape: Shape;
  place: { at: [number, number, number]; scale: number };
}

function Sample({ textures, size, shape, place }: SampleProps) {
  const invalidate = useThree((state) => state.invalidate);
  const geometry = useMemo(() => {
    const made =
      shape === "sphere"
        ? new THREE.SphereGeometry(1.05, 64, 40)
        : shape === "wall"
          ? new THREE.BoxGeometry(2.1, 2.1, 0.35)
          : new THREE.PlaneGeometry(2.1, 2.1);
    // In metres: a wall shows as many tiles as fit on it, a flat tile just one, a sphere a girth of three metres.
    const [across, up] =
      shape === "tile" ? [1, 1] : shape === "wall" ? [2.1 / size, 2.1 / size] : [6.6 / size, 3.3 / size];
    const uv = made.getAttribute("uv");
    const normal = made.getAttribute("normal");
    for (let i = 0; i < uv.count; i++) {
      const side = shape === "wall" && Math.abs(normal.getX(i)) > 0.5;
      const top = shape === "wall" && Math.abs(normal.getY(i)) > 0.5;
      uv.setXY(i, uv.getX(i) * (side ? 0.35 / size : across), (1 - uv.getY(i)) * (top ? 0.35 / size : up));
    }
    return made;
  }, [shape, size]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  useEffect(() => invalidate(), [geometry, textures, place, invalidate]);
  return (
    <mesh geometry={geometry} position={place.at} scale={place.scale} rotation={[0, shape === "wall" ? -0.12 : 0, 0]}>
      <meshStandardMaterial
        map={textures.base}
        normalMap={textures.normal}
        roughnessMap={textures.orm}
        metalnessMap={textures.orm}
        roughness={1}
        metalness={0.75}
      />
    </mesh>
  );
}

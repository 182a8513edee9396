import { useThree } from "@react-three/fiber";
import * as THREE from "three";
import type { PatchUniforms } from "./patches/sampling";
import type { Body } from "./water/body";

/** How many waves of wind a shader sums; the core makes as many. */
export const WAVES = 5;
/** How many covers coat items at most; the core has as many columns of masks. */
export const COATS = 4;

/** What all materials of a view share: set once, they follow. */
const beginning = () => ({
  /** Where before ends and after begins, in pixels from the left of what is drawn; below 0 all of it is after. */
  partedAt: { value: -1 },
  /** The sky without the sun, as far as materials and water mirror it. */
  sky: {
    skyHorizon: { value: new THREE.Vector3() },
    skyZenith: { value: new THREE.Vector3() },
    skyGround: { value: new THREE.Vector3() },
    around: { value: null as THREE.DataTexture | null },
    /** By how much the sky itself is shown brighter for the fog. */
    brighter: { value: 1 },
  },
  /** How bright what glows with a strength of 1 is shown. */
  glowing: { value: 0 },
  /** The air before all that is seen, where it is shown. */
  air: {
    shown: false,
    airHaze: { value: 0 },
    airDust: { value: new THREE.Vector3(1, 1, 1) },
    fogThick: { value: 0 },
    fogTop: { value: 0 },
    fogFade: { value: 1 },
    fogLight: { value: new THREE.Vector3() },
    fogSun: { value: new THREE.Vector3() },
    sunWay: { value: new THREE.Vector3(0, 1, 0) },
    fogLobe: { value: 0 },
    fogBanks: { value: 0 },
    /** How long the map of banks is on a side, metres. */
    banksLong: { value: 100 },
    banks: { value: null as THREE.DataTexture | null },
    /** Where in a box the sun shines through the air: outside of it everywhere. */
    sunlit: { value: null as THREE.Data3DTexture | null },
    sunlitLow: { value: new THREE.Vector3() },
    sunlitSpan: { value: new THREE.Vector3(0, 0, 0) },
  },
  /** What light is shown as, where a finish says so: as `cenote.finish.table` has it. */
  tones: {
    toneTable: { value: null as THREE.Data3DTexture | null },
    toneBends: { value: 1 },
    toneMost: { value: 1 },
  },
  wind: {
    windWay: { value: new THREE.Vector2(1, 0) },
    windStrength: { value: 0 },
    windTime: { value: 0 },
    windMost: { value: 1.4 },
    gustWaves: { value: Array.from({ length: WAVES }, () => new THREE.Vector4()) },
    gustShares: { value: new Float32Array(WAVES) },
  },
  coats: {
    coatStrength: { value: new THREE.Vector4() },
    coatOpacity: { value: new THREE.Vector4() },
    coatSoak: { value: new THREE.Vector4() },
    coatAbove: { value: new THREE.Vector4() },
    coatColours: { value: Array.from({ length: COATS }, () => new THREE.Vector3()) },
  },
  water: {
    /** All water of a view that light makes. */
    bodies: new Set<Body>(),
    /** Drops that lie on things, in the world's own frame, and how wide the widest of each is, metres. */
    drops: new Map<THREE.Mesh, number>(),
    /** What falls and floats through the air before it. */
    drifting: new Set<THREE.Object3D>(),
    shared: {
      /** What lies behind the water: its light, and how far away it is. */
      behind: { value: null as THREE.Texture | null },
      pixels: { value: new THREE.Vector2(1, 1) },
    },
  },
  patches: {
    shared: {
      patchBase: { value: null as THREE.DataArrayTexture | null },
      patchOrm: { value: null as THREE.DataArrayTexture | null },
      patchNormal: { value: null as THREE.DataArrayTexture | null },
      patchAnisotropy: { value: 1 },
    },
    /** Settles once those that are on their way have come; none where none are. */
    coming: null as Promise<void> | null,
    /** By surface, which patches of it are there. */
    surfaces: new Map<string, PatchUniforms>(),
  },
});

export type Uniforms = ReturnType<typeof beginning>;

const kept = new WeakMap<THREE.Scene, Uniforms>();

/** The uniforms of what is drawn in a scene; they go with it. */
export function uniformsOf(scene: THREE.Scene): Uniforms {
  const found = kept.get(scene) ?? beginning();
  kept.set(scene, found);
  return found;
}

/** The uniforms of the view that a part of it is drawn in. */
export const useUniforms = (): Uniforms => uniformsOf(useThree((state) => state.scene));

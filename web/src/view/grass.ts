import * as THREE from "three";
import type { SceneManifest } from "../api/client";
import type { Pack } from "../api/pack";
import { drawnByProcessor } from "../site/machine";
import type { Showing } from "../site/store";
import { litAsLeaves } from "./leaves";
import type { Uniforms } from "./uniforms";
import { WIND } from "./wind";

export type GrassLook = SceneManifest["grass"][number]["look"];

/** Points along a blade that are drawn, by level of detail. */
const LEVELS = [
  [0, 1, 2, 3, 4],
  [0, 2, 4],
  [0, 4],
];
const TRIANGLES = LEVELS.map((points) => 2 * (points.length - 1));
/** Up to how far away a level of detail is drawn, metres. */
const REACH = drawnByProcessor ? [1.2, 4] : [7, 24];
/** Up to how far away all blades are drawn where the machine bears it, metres, and the least. */
const WHOLE = drawnByProcessor ? 3 : 16;
const LEAST_WHOLE = 0.05;
/** The share of what may be drawn of placed items that grass has of its own. */
const SHARE = drawnByProcessor ? 0.4 : 0.6;
/** How many times as wide a blade may be drawn where it stands for others. */
const WIDEST = drawnByProcessor ? 6 : 9;

/** A square of blades: culled together, thinned with distance by their ranks. */
export interface Sward {
  meshes: (THREE.Mesh | undefined)[];
  group: THREE.Group;
  material: GrassMaterial;
  /** Blades in it. */
  count: number;
  box: THREE.Box3;
  /** So many of its blades at least, as they are drawn: what is never drawn takes no room on the card. */
  blades: (count: number) => Record<string, THREE.InstancedBufferAttribute>;
  /** Those that are held at present, and how many they are. */
  attributes: Record<string, THREE.InstancedBufferAttribute>;
  held: number;
}

export interface GrassMaterial {
  material: THREE.Material;
  /** Up to how far away all blades are drawn. */
  whole: { value: number };
  dispose: () => void;
}

/** How much where a blade leans counts for its normal, as in the core. */
const AROUND = 0.3;

const DECLARED = `
attribute vec4 blade;
attribute vec4 look;
attribute vec4 lie;
uniform highp sampler2D bladeShapes;
uniform float bladeLast;
uniform float grassWhole;
uniform float grassWide;
uniform float grassStiffness;
uniform float grassBrightest;
uniform vec3 grassRoot;
uniform vec3 grassTip;
uniform vec3 grassDead;
`;

// A blade is one of the core's shapes, turned and as long as it is; see cenote/grass/strands.py.
const GROWN = `
vec3 grownAt;
vec3 grownNormal;
{
  float turn = look.x * ${(Math.PI / 128).toFixed(8)};
  vec3 curve = texelFetch(bladeShapes, ivec2(int(position.y + 0.5), int(look.y + 0.5)), 0).xyz;
  vec2 ahead = vec2(sin(turn), cos(turn));
  float share = clamp(grassWhole / max(distance(cameraPosition, blade.xyz), 1e-3), 0.0, 1.0);
  // The last ones of those that stand for others grow thin before they are left out.
  float there = share < 1.0 ? 1.0 - smoothstep(0.75 * share, share, lie.w / 256.0) : 1.0;
  float wide = grassWide * min(1.0 / share, ${WIDEST.toFixed(1)}) * there;
  vec3 at = vec3(ahead.x * curve.x, curve.y, ahead.y * curve.x) * blade.w;
  at = windBent(at, blade.w, windLean(blade.xz, grassStiffness));
  at.xz += vec2(ahead.y, -ahead.x) * (position.x * curve.z * wide);
  grownAt = blade.xyz + at;
  grownNormal = normalize(lie.xyz / 127.5 - 1.0 + ${AROUND} * vec3(ahead.x, 0.0, ahead.y));
  float up = position.y / bladeLast;
  vec3 shade = mix(grassRoot, grassTip, up);
  shade = mix(shade, 0.3 * shade + grassDead * (0.35 + 0.35 * up), look.w / 255.0);
  vColor = vec4(shade * (look.z * grassBrightest / 255.0), 1.0);
}
`;

/** What the blades of a layer are drawn with. */
export function grassMaterial(
  uniforms: Uniforms,
  look: GrassLook,
  wide: number,
  brightest: number,
  showing: Showing,
): GrassMaterial {
  const of = { vertexColors: true, side: THREE.DoubleSide };
  const material =
    showing === "flat"
      ? new THREE.MeshBasicMaterial({ ...of, toneMapped: false })
      : drawnByProcessor
        ? new THREE.MeshLambertMaterial(of)
        : new THREE.MeshStandardMaterial({ ...of, roughness: 0.62 });
  if (showing !== "flat") litAsLeaves(material);
  const { points } = look;
  const table = new Float32Array((look.shapes.length / 3) * 4);
  for (let i = 0; i < look.shapes.length / 3; i++) table.set(look.shapes.slice(i * 3, i * 3 + 3), i * 4);
  const shapes = new THREE.DataTexture(table, points, table.length / 4 / points, THREE.RGBAFormat, THREE.FloatType);
  shapes.needsUpdate = true;
  const whole = { value: WHOLE };
  const own = {
    bladeShapes: { value: shapes },
    bladeLast: { value: points - 1 },
    grassWhole: whole,
    grassWide: { value: wide },
    grassStiffness: { value: look.stiffness },
    grassBrightest: { value: brightest },
    grassRoot: { value: new THREE.Vector3(...look.root) },
    grassTip: { value: new THREE.Vector3(...look.tip) },
    grassDead: { value: new THREE.Vector3(...look.dead) },
  };
  const before = material.onBeforeCompile.bind(material);
  material.onBeforeCompile = (shader, renderer) => {
    before(shader, renderer);
    Object.assign(shader.uniforms, uniforms.wind, own);
    shader.vertexShader =
      DECLARED +
      WIND +
      shader.vertexShader
        .replace("#include <color_vertex>", GROWN)
        .replace("#include <beginnormal_vertex>", "vec3 objectNormal = grownNormal;")
        .replace("#include <begin_vertex>", "vec3 transformed = grownAt;");
  };
  material.customProgramCacheKey = () => `grass ${showing}`;
  return {
    material,
    whole,
    dispose: () => {
      material.dispose();
      shapes.dispose();
    },
  };
}

/** The two sides of a blade at each of its points: which side, and which point. */
function bladeAt(points: number[]): THREE.InstancedBufferGeometry {
  const geometry = new THREE.InstancedBufferGeometry();
  const position = new Float32Array(points.flatMap((point) => [-1, point, 0, 1, point, 0]));
  geometry.setAttribute("position", new THREE.BufferAttribute(position, 3));
  const quads = points.slice(1).flatMap((_, k) => [0, 1, 3, 0, 3, 2].map((corner) => 2 * k + corner));
  geometry.setIndex(quads);
  return geometry;
}

/** The squares of blades of a pack; see the server's packs/grass.py. */
export function swardsOf(pack: Pack, longest: number, material: GrassMaterial): Sward[] {
  const { place, look, lie, first, box } = pack.arrays;
  return Array.from({ length: Math.max(0, first.data.length - 1) }, (_, row) => {
    const [from, to] = [first.data[row], first.data[row + 1]];
    const corners = Array.from(box.data.slice(row * 6, row * 6 + 6));
    const bounds = new THREE.Box3(new THREE.Vector3(...corners.slice(0, 3)), new THREE.Vector3(...corners.slice(3)));
    const span = bounds.getSize(new THREE.Vector3());
    const spans = [Math.max(span.x, 1e-3), Math.max(span.y, 1e-3), Math.max(span.z, 1e-3), longest];
    const blades = (count: number) => {
      const at = new Float32Array(count * 4);
      for (let i = 0; i < at.length; i++) at[i] = (corners[i % 4] ?? 0) * (i % 4 < 3 ? 1 : 0) + (place.data[from * 4 + i] / 65535) * spans[i % 4]; // prettier-ignore
      const part = (of: typeof look) =>
        new THREE.InstancedBufferAttribute((of.data as Uint8Array).subarray(from * 4, (from + count) * 4), 4);
      return { blade: new THREE.InstancedBufferAttribute(at, 4), look: part(look), lie: part(lie) };
    };
    return {
      meshes: [],
      group: new THREE.Group(),
      material,
      count: to - from,
      box: bounds.expandByScalar(longest),
      blades,
      attributes: {},
      held: 0,
    };
  });
}

/** Show so many of a square's blades at a level of detail. */
function show(sward: Sward, level: number, count: number) {
  if (count > sward.held) {
    // Some more than are wanted, so that coming nearer asks for more only now and then.
    sward.held = Math.min(sward.count, Math.ceil(count * 1.5));
    disposeSward(sward);
    sward.attributes = sward.blades(sward.held);
    sward.group.clear();
    sward.meshes = [];
  }
  let mesh = sward.meshes[level];
  if (!mesh && count > 0) {
    const geometry = bladeAt(LEVELS[level]);
    for (const [name, attribute] of Object.entries(sward.attributes)) geometry.setAttribute(name, attribute);
    mesh = new THREE.Mesh(geometry, sward.material.material);
    mesh.frustumCulled = false;
    mesh.receiveShadow = true;
    mesh.raycast = () => undefined;
    mesh.matrixAutoUpdate = false;
    sward.meshes[level] = mesh;
    sward.group.add(mesh);
  }
  sward.meshes.forEach((one, row) => one && (one.visible = row === level && count > 0));
  if (mesh) (mesh.geometry as THREE.InstancedBufferGeometry).instanceCount = count;
}

/** Let go of what was made to draw a square. */
export function disposeSward(sward: Sward) {
  for (const mesh of sward.meshes) mesh?.geometry.dispose();
}

const registered = new WeakMap<THREE.Scene, Set<Sward[]>>();

/** Put squares of blades under the budget of a scene; returns how to take them out. */
export function registerSwards(scene: THREE.Scene, swards: Sward[]): () => void {
  if (!registered.has(scene)) registered.set(scene, new Set());
  const all = registered.get(scene)!;
  all.add(swards);
  return () => void all.delete(swards);
}

export const levelAt = (away: number): number => {
  const level = REACH.findIndex((reach) => away < reach);
  return level < 0 ? REACH.length : level;
};

/** Up to how far away all blades can be drawn with no more than so many triangles, metres. */
export function wholeWithin(swards: { count: number; away: number }[], budget: number, most = WHOLE): number {
  const cost = (whole: number) =>
    swards.reduce((sum, { count, away }) => sum + count * Math.min(1, whole / away) * TRIANGLES[levelAt(away)], 0);
  if (cost(most) <= budget) return most;
  let [low, high] = [LEAST_WHOLE, most];
  for (let step = 0; step < 20; step++) {
    const middle = Math.sqrt(low * high);
    if (cost(middle) <= budget) low = middle;
    else high = middle;
  }
  return low;
}

/** Draw what is in sight of the grass of a scene, with no more than its share of a budget of triangles. Returns how many blades are drawn. */
export function growWithin(scene: THREE.Scene, camera: THREE.Camera, budget: number): number {
  const all = [...(registered.get(scene) ?? [])].flat();
  if (!all.length) return 0;
  const frustum = new THREE.Frustum().setFromProjectionMatrix(
    new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
  );
  const eye = camera.getWorldPosition(new THREE.Vector3());
  const seen: { sward: Sward; count: number; away: number }[] = [];
  for (const sward of all) {
    if (!frustum.intersectsBox(sward.box)) sward.meshes.forEach((mesh) => mesh && (mesh.visible = false));
    else seen.push({ sward, count: sward.count, away: Math.max(0.3, sward.box.distanceToPoint(eye)) });
  }
  const whole = wholeWithin(seen, budget * SHARE);
  let drawn = 0;
  for (const { sward, away } of seen) {
    const count = Math.ceil(sward.count * Math.min(1, whole / away));
    sward.material.whole.value = whole;
    show(sward, levelAt(away), count);
    drawn += count;
  }
  return drawn;
}

import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { SiteDocument } from "../api/client";
import { drawnByProcessor } from "../site/machine";
import { uniformsOf } from "./uniforms";

const LOW = [0.74, 0.78, 0.8];
const HIGH = [0.36, 0.5, 0.66];
const GROUND = [0.2, 0.19, 0.16];
const SKY_LIGHT = new THREE.Color().setRGB(0.52, 0.6, 0.7, THREE.LinearSRGBColorSpace);
const GROUND_LIGHT = new THREE.Color().setRGB(0.3, 0.29, 0.26, THREE.LinearSRGBColorSpace);

const vector = (colour: number[]) => `vec3(${colour.map((one) => one.toFixed(3)).join(", ")})`;
/** The sky in shader code: its colour by how far one looks up. */
export const skyAt = `
vec3 skyAt(float up) {
  vec3 above = mix(${vector(LOW)}, ${vector(HIGH)}, sqrt(max(up, 0.0)));
  return mix(${vector(GROUND)}, above, smoothstep(-0.12, 0.03, up));
}`;

/** A sky from horizon to zenith over what is below it, as a small panorama. */
function skyTexture(below: number[]): THREE.DataTexture {
  const width = 64;
  const height = 32;
  const data = new Float32Array(width * height * 4);
  for (let y = 0; y < height; y++) {
    const up = Math.sin((0.5 - (y + 0.5) / height) * -Math.PI);
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++)
        data[(y * width + x) * 4 + c] =
          up > 0 ? LOW[c] + (HIGH[c] - LOW[c]) * Math.sqrt(up) : below[c] + (LOW[c] - below[c]) * Math.exp(up * 14);
  }
  for (let i = 3; i < data.length; i += 4) data[i] = 1;
  const texture = new THREE.DataTexture(data, width, height, THREE.RGBAFormat, THREE.FloatType);
  texture.mapping = THREE.EquirectangularReflectionMapping;
  texture.minFilter = texture.magFilter = THREE.LinearFilter;
  texture.needsUpdate = true;
  return texture;
}

/** Sun, sky and haze. The sun's shadow is drawn again only when something has moved. */
export function Sky({ light, low, high }: { light: SiteDocument["light"]; low: number[]; high: number[] }) {
  const { gl, scene, invalidate } = useThree();
  const sky = useMemo(() => skyTexture(GROUND), []);
  // To the eye the haze goes on below the horizon; only what is lit by it sees dull ground there.
  const backdrop = useMemo(() => skyTexture(LOW), []);
  useEffect(() => {
    // Preparing the sky for reflections takes the processor seconds; there a plain light from above and below stands in.
    const generator = drawnByProcessor ? null : new THREE.PMREMGenerator(gl);
    const environment = generator?.fromEquirectangular(sky);
    scene.environment = environment?.texture ?? null;
    scene.background = backdrop;
    scene.fog = new THREE.FogExp2(new THREE.Color().setRGB(0.66, 0.71, 0.75, THREE.LinearSRGBColorSpace), 0.0045);
    gl.shadowMap.enabled = true;
    gl.shadowMap.type = THREE.PCFShadowMap;
    gl.shadowMap.autoUpdate = false;
    gl.shadowMap.needsUpdate = true;
    invalidate();
    return () => {
      scene.environment = scene.background = scene.fog = null;
      environment?.dispose();
      generator?.dispose();
      sky.dispose();
      backdrop.dispose();
    };
  }, [gl, scene, sky, backdrop, invalidate]);
  useEffect(() => {
    scene.environmentIntensity = light.sky * 0.85;
    uniformsOf(scene).skyStrength.value = light.sky * 0.85;
    invalidate();
  }, [scene, light.sky, invalidate]);

  const centre = useMemo(() => new THREE.Vector3((low[0] + high[0]) / 2, 0, (low[2] + high[2]) / 2), [low, high]);
  const radius = Math.hypot(high[0] - low[0], high[2] - low[2]) / 2 + 4;
  useEffect(() => {
    // Air is as clear as the site is wide, so that its far end is seen.
    if (scene.fog) (scene.fog as THREE.FogExp2).density = 0.0045 * Math.min(1, (90 / radius) ** 0.7);
    invalidate();
  }, [scene, radius, invalidate]);
  const sun = useMemo(() => new THREE.DirectionalLight(), []);
  useEffect(() => {
    const up = THREE.MathUtils.degToRad(light.height);
    const round = THREE.MathUtils.degToRad(light.bearing);
    const towards = new THREE.Vector3(Math.cos(up) * Math.sin(round), Math.sin(up), -Math.cos(up) * Math.cos(round));
    sun.position.copy(centre).addScaledVector(towards, radius * 2);
    sun.target.position.copy(centre);
    sun.target.updateMatrixWorld();
    sun.color.setRGB(1, 0.93, 0.82, THREE.LinearSRGBColorSpace);
    sun.intensity = light.sun;
    sun.castShadow = true;
    sun.shadow.mapSize.setScalar(drawnByProcessor ? 1536 : 4096);
    sun.shadow.normalBias = 0.05;
    sun.shadow.bias = -0.0004;
    Object.assign(sun.shadow.camera, {
      left: -radius,
      right: radius,
      top: radius,
      bottom: -radius,
      near: 0.5,
      far: radius * 4,
    });
    sun.shadow.camera.updateProjectionMatrix();
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [sun, light.bearing, light.height, light.sun, centre, radius, gl, invalidate]);
  return (
    <>
      {drawnByProcessor && <hemisphereLight args={[SKY_LIGHT, GROUND_LIGHT, light.sky * 2.6]} />}
      <primitive object={sun} />
      <primitive object={sun.target} />
    </>
  );
}

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
  const sky = useMemo(() => skyTexture(LOW), []);
  useEffect(() => () => ripples.dispose(), [ripples]);
  useEffect(() => () => sky.dispose(), [sky]);
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
        color={colour}
        envMap={sky}
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

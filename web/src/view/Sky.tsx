import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { SiteDocument } from "../api/client";
import { useBeams, useDaylight } from "../api/queries";
import { drawnByProcessor } from "../site/machine";
import { useView } from "../site/store";
import { Above } from "./Above";
import { Lamps } from "./Lamps";
import { breathe } from "./air";
import { Drifting } from "./Drifting";
import { brightest, panoramas } from "./daylight";
import { uniformsOf } from "./uniforms";

/** What is about a mask, as in the small pictures of masks. */
const PLAIN = new THREE.Color("#3b3b3b");

/** The sky in shader code: what it sends by how far one looks up. */
export const skyAt = `
uniform vec3 skyHorizon;
uniform vec3 skyZenith;
uniform vec3 skyGround;
vec3 skyAt(float up) {
  vec3 above = mix(skyHorizon, skyZenith, sqrt(max(up, 0.0)));
  return mix(skyGround, above, smoothstep(-0.12, 0.03, up));
}`;

const colourOf = ([r, g, b]: number[]) => new THREE.Color().setRGB(r, g, b, THREE.LinearSRGBColorSpace);

interface Props {
  light: SiteDocument["light"];
  air: SiteDocument["air"];
  lamps: SiteDocument["lamps"];
  /** Key of what keeps rain off. */
  shelter: string;
  low: number[];
  high: number[];
}

/** Sun, moon, sky, air, what falls through it, and lamps. The shadow is drawn again only when something has moved. */
export function Sky({ light, air, lamps, shelter, low, high }: Props) {
  const { gl, scene, invalidate } = useThree();
  const beams = useBeams(lamps, light);
  const lit = useMemo(
    () =>
      lamps.map(({ shown, burns }) => shown && (burns === "always" || (burns === "at dusk" && beams?.dark === true))),
    [lamps, beams],
  );
  const lamplight = beams ? Math.max(0, ...beams.levels.filter((_, row) => lit[row])) : 0;
  const found = useDaylight({ light, air }, lamplight);
  // Black and white are told apart best where nothing about them has a colour.
  const plain = useView((state) => state.showing === "mask" || state.peeking);
  const lightShown = useView((state) => state.showing === "lit" && !state.peeking);
  const { around, backdrop } = useMemo(() => (found ? panoramas(found) : { around: null, backdrop: null }), [found]);
  useEffect(() => {
    gl.shadowMap.enabled = true;
    gl.shadowMap.type = THREE.PCFShadowMap;
    gl.shadowMap.autoUpdate = false;
  }, [gl]);
  useEffect(() => {
    uniformsOf(scene).air.shown = lightShown && found !== undefined;
    invalidate();
  }, [scene, lightShown, found, invalidate]);
  useEffect(() => {
    if (!found || !around || !backdrop) return undefined;
    const { horizon, zenith, below } = found.meta;
    // Preparing the sky for reflections takes the processor seconds; there a plain light from above and below stands in.
    const generator = drawnByProcessor ? null : new THREE.PMREMGenerator(gl);
    const environment = generator?.fromEquirectangular(around);
    scene.environment = environment?.texture ?? null;
    const uniforms = uniformsOf(scene);
    const clear = breathe(uniforms, found);
    const { sky } = uniforms;
    sky.around.value = around;
    sky.brighter.value = found.meta.brighter;
    uniforms.glowing.value = found.meta.glow;
    sky.skyHorizon.value.fromArray(horizon);
    sky.skyZenith.value.fromArray(zenith);
    sky.skyGround.value.fromArray(below.map((one) => one / Math.PI));
    invalidate();
    return () => {
      clear();
      scene.environment = null;
      environment?.dispose();
      generator?.dispose();
      around.dispose();
      backdrop.dispose();
    };
  }, [gl, scene, found, around, backdrop, invalidate]);

  useEffect(() => {
    scene.background = plain ? PLAIN : backdrop;
    invalidate();
    return () => {
      scene.background = null;
    };
  }, [scene, plain, backdrop, invalidate]);

  const centre = useMemo(() => new THREE.Vector3((low[0] + high[0]) / 2, 0, (low[2] + high[2]) / 2), [low, high]);
  const radius = Math.hypot(high[0] - low[0], high[2] - low[2]) / 2 + 4;
  const sun = useMemo(() => new THREE.DirectionalLight(), []);
  useEffect(() => {
    if (!found) return;
    const { direction, direct } = found.meta;
    sun.position
      .copy(centre)
      .addScaledVector(new THREE.Vector3(...(direction as [number, number, number])), radius * 2);
    sun.target.position.copy(centre);
    sun.target.updateMatrixWorld();
    sun.intensity = brightest(direct);
    sun.color.copy(colourOf(direct.map((one) => one / (sun.intensity || 1))));
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
  }, [sun, found, centre, radius, gl, invalidate]);
  return (
    <>
      {!plain && <Above light={light} lamplight={lamplight} />}
      {!plain && found && beams && <Lamps lamps={lamps} beams={beams.beams} lit={lit} scale={found.meta.scale} />}
      {lightShown && found && found.meta.drifts.length > 0 && <Drifting drifts={found.meta.drifts} shelter={shelter} />}
      {drawnByProcessor && found && (
        <hemisphereLight args={[colourOf(found.meta.above), colourOf(found.meta.below), 1]} />
      )}
      <primitive object={sun} />
      <primitive object={sun.target} />
    </>
  );
}

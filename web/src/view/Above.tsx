import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useState } from "react";
import * as THREE from "three";
import type { SiteDocument } from "../api/client";
import { useAbove } from "../api/queries";
import { RESTS } from "../forms/useRest";
import { useView } from "../site/store";
import { domeMaterial, starMaterial, starPoints } from "./dome";
import { useUniforms } from "./uniforms";

/** Marks when it was there first. */
const SHOWN = "cenote-sky-shown";
/** After all that hides it. */
const LAST = 1000;

/** Clouds, sun, moon and stars, once a light is at rest; until then the coarse sky stands behind all. */
export function Above({ light, lamplight }: { light: SiteDocument["light"]; lamplight: number }) {
  const { gl, size, camera, invalidate } = useThree();
  const uniforms = useUniforms();
  const [rested, setRested] = useState<SiteDocument["light"] | null>(null);
  // It takes the server seconds, and what stands on the site comes first.
  const siteShown = useView((state) => state.siteShown);
  useEffect(() => {
    if (!siteShown) return undefined;
    const timer = window.setTimeout(() => setRested(light), RESTS);
    return () => window.clearTimeout(timer);
  }, [light, siteShown]);
  const pack = useAbove(rested, lamplight);
  const shown = rested === light ? pack : undefined;
  const made = useMemo(() => {
    if (!shown) return null;
    const reversed = gl.capabilities.reversedDepthBuffer;
    const dome = domeMaterial(shown, reversed, uniforms.sky.brighter);
    return { dome, points: starPoints(shown), stars: starMaterial(dome, reversed) };
  }, [shown, gl, uniforms]);
  const sphere = useMemo(() => new THREE.SphereGeometry(1, 48, 32), []);
  useEffect(() => () => sphere.dispose(), [sphere]);
  useEffect(() => {
    invalidate();
    if (made && !performance.getEntriesByName(SHOWN).length) performance.mark(SHOWN);
    return () => {
      made?.dome.dispose();
      made?.stars.dispose();
      made?.points?.dispose();
    };
  }, [made, invalidate]);
  useFrame(() => {
    if (!made || !(camera instanceof THREE.PerspectiveCamera)) return;
    made.stars.uniforms.pixel.value = (2 * Math.tan((camera.fov * Math.PI) / 360)) / size.height;
    made.stars.uniforms.ratio.value = gl.getPixelRatio();
  });
  if (!made) return null;
  return (
    <>
      <mesh geometry={sphere} material={made.dome} frustumCulled={false} renderOrder={LAST} raycast={() => undefined} />
      {made.points && (
        <points
          geometry={made.points}
          material={made.stars}
          frustumCulled={false}
          renderOrder={-LAST}
          raycast={() => undefined}
        />
      )}
    </>
  );
}

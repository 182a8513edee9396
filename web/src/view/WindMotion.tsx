import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import type { SiteDocument } from "../api/client";
import { useView } from "../site/store";
import { drawnByProcessor } from "../site/machine";
import { useDocument } from "../site/context";
import { useUniforms } from "./uniforms";
import { setWind, type Wind } from "./wind";

/** Milliseconds from one picture to the next at least, and against how long a picture takes: the rest is for the user. */
const QUICKEST = 33;
const SLOWER = drawnByProcessor ? 2 : 1;

/** Whether anything moves by itself: what sways, and what falls. */
export const stirs = (air: SiteDocument["air"], wind: { strength: number }) =>
  wind.strength > 0 || air.rain > 0 || air.snowfall > 0 || air.leaves > 0 || air.embers > 0;

/** Brings the wind to what sways, and time to the wind while it is wanted moving: at a pace that the machine bears. */
export function WindMotion({ wind }: { wind: Wind }) {
  const { air } = useDocument();
  const moves = useView((state) => state.windMoves) && stirs(air, wind);
  const { gl, invalidate } = useThree();
  const uniforms = useUniforms();
  useEffect(() => {
    setWind(uniforms, wind);
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [uniforms, wind, gl, invalidate]);
  useEffect(() => {
    const { windTime } = uniforms.wind;
    windTime.value = wind.moment;
    invalidate();
    if (!moves) return;
    const { set } = useView.getState();
    const began = performance.now();
    let timer = 0;
    let frame = 0;
    const next = () => {
      const asked = performance.now();
      windTime.value = wind.moment + (asked - began) / 1000;
      gl.shadowMap.needsUpdate = !drawnByProcessor;
      invalidate();
      // The second callback comes once the picture that the first one belongs to is on its way to the screen.
      frame = requestAnimationFrame(() => {
        frame = requestAnimationFrame(() => {
          const took = performance.now() - asked;
          const pause = Math.max(QUICKEST - took, took * (SLOWER - 1));
          set({ windPace: 1000 / (took + Math.max(0, pause)) });
          timer = window.setTimeout(next, pause);
        });
      });
    };
    next();
    return () => {
      window.clearTimeout(timer);
      cancelAnimationFrame(frame);
      set({ windPace: 0 });
    };
  }, [uniforms, moves, wind.moment, gl, invalidate]);
  return null;
}

import { OrbitControls } from "@react-three/drei";
import { useFrame, useThree } from "@react-three/fiber";
import { type ComponentRef, useCallback, useEffect, useMemo, useRef } from "react";
import * as THREE from "three";
import type { Shot } from "../api/client";
import { useSiteContext } from "../site/context";
import type { Point } from "../site/poses";
import { emptyStage } from "../site/stage";
import { FULL_SHARPNESS, useView } from "../site/store";
import { CameraLens } from "./CameraLens";
import { layersThere } from "./chunks";
import { useShotLens } from "./useShotLens";
import { Walk } from "./Walk";
import { orbited } from "./orbit";
import { drawnByProcessor } from "../site/machine";
import { afterFrame, beginning, LIGHT, TIERS, unsettled } from "./quality";
import type { Frame } from "./passes/pass";
import { passesOfView } from "./passes/registry";
import { uniformsOf } from "./uniforms";

/** Where a ray from the camera's middle meets a surface, brought down to the ground below it. */
function spotOnGround(scene: THREE.Scene, camera: THREE.Camera, target: THREE.Vector3): Point {
  const surfaces: THREE.Object3D[] = [];
  scene.traverse((object) => object.userData.surface && surfaces.push(object));
  const caster = new THREE.Raycaster();
  caster.setFromCamera(new THREE.Vector2(0, 0), camera);
  const at = (caster.intersectObjects(surfaces, false)[0]?.point ?? target).clone();
  caster.set(new THREE.Vector3(at.x, 1e4, at.z), new THREE.Vector3(0, -1, 0));
  const ground = surfaces.filter((object) => object.userData.surface === "ground");
  at.y = caster.intersectObjects(ground, false)[0]?.point.y ?? 0;
  return at.toArray().map((v) => Number(v.toFixed(2))) as Point;
}

/** Steps round, up and away of a key in the view. */
const TURNS: Record<string, [number, number, number]> = {
  ArrowLeft: [-1, 0, 0],
  ArrowRight: [1, 0, 0],
  ArrowUp: [0, 1, 0],
  ArrowDown: [0, -1, 0],
  PageUp: [0, 0, -1],
  PageDown: [0, 0, 1],
};

/** What a view that is kept has of the shot that it was looked at through. */
const kept = (shot?: Shot) => ({
  aperture: shot?.aperture ?? 0,
  finish: shot?.finish ?? "",
  motion: shot?.motion ?? emptyStage().shot().motion,
});

/** Moves the camera: to shots, and by hand. Left-drag orbits, right-drag pans, wheel zooms, double-click centres. */
export function CameraRig({ shots }: { shots: Shot[] }) {
  const seen = useShotLens(shots);
  const lens = useRef(seen);
  lens.current = seen;
  const { camera, gl, scene, invalidate } = useThree();
  const { stage } = useSiteContext();
  const controls = useRef<ComponentRef<typeof OrbitControls>>(null);
  const shotId = useView((state) => state.shotId);
  const ticket = useView((state) => state.shotTicket);
  const latest = useRef(shots);
  latest.current = shots;

  useEffect(() => {
    const shot = latest.current.find((one) => one.id === shotId) ?? latest.current[0];
    if (!shot || !controls.current) return;
    camera.position.set(...(shot.position as [number, number, number]));
    controls.current.target.set(...(shot.target as [number, number, number]));
    controls.current.update();
    invalidate();
  }, [shotId, ticket, camera, invalidate]);

  useEffect(() => {
    const element = gl.domElement.parentElement!.parentElement!;
    const turn = (event: KeyboardEvent) => {
      const steps = TURNS[event.key];
      // Where something is picked, arrows move that.
      const { inHand, picked } = useView.getState();
      if (!steps || inHand || picked || event.ctrlKey || event.metaKey || event.altKey || !controls.current) return;
      event.preventDefault();
      camera.position.copy(orbited(camera.position, controls.current.target, steps, event.shiftKey ? 5 : 1));
      controls.current.update();
      invalidate();
    };
    element.addEventListener("keydown", turn);
    return () => element.removeEventListener("keydown", turn);
  }, [camera, gl, invalidate]);

  useEffect(() => {
    const element = gl.domElement;
    const centre = (event: MouseEvent) => {
      const box = element.getBoundingClientRect();
      const at = new THREE.Vector2(
        ((event.clientX - box.left) / box.width) * 2 - 1,
        1 - ((event.clientY - box.top) / box.height) * 2,
      );
      const caster = new THREE.Raycaster();
      caster.setFromCamera(at, camera);
      const hit = caster.intersectObjects(scene.children, true).find((one) => one.object.userData.surface);
      if (!hit || !controls.current) return;
      controls.current.target.copy(hit.point);
      controls.current.update();
      invalidate();
    };
    element.addEventListener("dblclick", centre);
    return () => element.removeEventListener("dblclick", centre);
  }, [camera, gl, scene, invalidate]);

  useEffect(() => {
    const target = () => controls.current?.target ?? new THREE.Vector3();
    const rounded = (vector: THREE.Vector3) => vector.toArray().map((v) => Number(v.toFixed(3))) as Point;
    stage.shot = () => ({
      position: rounded(camera.position),
      target: rounded(target()),
      ...lens.current,
      ...kept(latest.current.find(({ id }) => id === useView.getState().shotId)),
      focus: rounded(target()),
    });
    stage.spot = () => spotOnGround(scene, camera, target());
    stage.scene = scene;
    return () => void Object.assign(stage, emptyStage());
  }, [stage, scene, camera]);

  return (
    <>
      <OrbitControls
        ref={controls}
        makeDefault
        enableDamping={false}
        zoomToCursor
        maxPolarAngle={Math.PI * 0.52}
        minDistance={0.3}
        maxDistance={900}
      />
      <CameraLens lens={seen} />
      <Walk />
    </>
  );
}

/** How many surfaces stand in the scene with their maps on. */
function surfacesThere(scene: THREE.Scene): number {
  let count = 0;
  scene.traverse((object) => {
    if (object.userData.dressed) count += 1;
  });
  return count;
}

/** Milliseconds between frames whose time is taken: for that the page has to wait until one is drawn. */
const LOOKS_EVERY = 400;
/** While something is dragged a slow machine keeps its frames to about this many milliseconds, by drawing fewer pixels. */
const HURRIED_FRAME = 90;
/** Triangles of placed items to draw meanwhile: few where only surfaces change, more where the items themselves do. */
const HURRIED_BUDGET = { surfaces: 3_000, items: 25_000 };
const LEAST_PIXELS = 0.2;
/** Once nothing has moved for some milliseconds, a slow machine draws one frame with more of what grows. */
const STILL = { after: 900, budget: 420_000, nearer: 3 };
/** How long a slow machine waits for a site to be there whole before it draws what there is, in milliseconds. */
const PATIENCE = 8000;

interface DrawingProps {
  /** How many surfaces and scatter layers the scene has; the first frame that shows them all is marked. */
  surfaces: number;
  layers: number;
}

/** Whether a change moves placed items, and not only what surfaces look like. */
function touchesItems(path: string): boolean {
  return (
    path.startsWith("/planting") ||
    path.startsWith("/wheres") ||
    path.startsWith("/wind") ||
    path === "/climate" ||
    path === "/climate/season"
  );
}

/** Draws each frame, measures the first ones, and keeps to what this machine bears. Says what it leaves out. */
export function Drawing({ surfaces, layers }: DrawingProps) {
  const { gl, invalidate, controls } = useThree();
  const quality = useRef(beginning(drawnByProcessor));
  const looked = useRef(-Infinity);
  const set = useView((state) => state.set);
  const drafting = useView((state) => state.draft !== null);
  const blowing = useView((state) => state.windPace > 0);
  const planting = useView(
    (state) => state.windPace > 0 || (state.draft?.operations.some(({ path }) => touchesItems(path)) ?? false),
  );
  const hurried = useRef(false);
  const passes = useMemo(passesOfView, []);
  const moving = useRef(false);
  const pixels = useRef(0.35);
  const said = useRef("");
  const whole = useRef(false);
  const patient = useRef(true);
  /** Whether the next frame is the one that is drawn while all is still. */
  const still = useRef({ now: false, timer: 0 });
  const patience = useRef(performance.now() + PATIENCE);

  useEffect(() => {
    const timer = window.setTimeout(invalidate, PATIENCE + 50);
    const later = still.current;
    return () => {
      window.clearTimeout(timer);
      window.clearTimeout(later.timer);
    };
  }, [invalidate]);

  const hurry = useCallback(
    (on: boolean) => {
      hurried.current = on && quality.current.tier === LIGHT;
      set({ sharpness: hurried.current ? pixels.current : FULL_SHARPNESS });
      invalidate();
    },
    [set, invalidate],
  );

  useEffect(() => {
    const orbit = controls as unknown as THREE.EventDispatcher<{ start: object; end: object }> | null;
    if (!orbit) return;
    // While the camera moves, a slow machine draws at half size.
    const start = () => {
      moving.current = true;
      hurry(true);
    };
    const end = () => {
      moving.current = false;
      hurry(false);
    };
    orbit.addEventListener("start", start);
    orbit.addEventListener("end", end);
    return () => {
      orbit.removeEventListener("start", start);
      orbit.removeEventListener("end", end);
    };
  }, [controls, hurry]);
  useEffect(() => hurry(drafting || blowing), [drafting, blowing, hurry]);

  useFrame(({ scene, camera }) => {
    const complete = surfaces > 0 && layersThere(scene) >= layers && surfacesThere(scene) >= surfaces;
    if (complete || performance.now() > patience.current) patient.current = false;
    // Where each frame takes the processor long, half-filled ones only keep the first whole one waiting.
    if (drawnByProcessor && patient.current) return;
    camera.updateMatrixWorld();
    const light = hurried.current
      ? HURRIED_BUDGET[planting ? "items" : "surfaces"]
      : TIERS[quality.current.tier].budget;
    const began = performance.now();
    // What is known of a machine is learnt from frames that show all there is.
    const looking =
      whole.current && !still.current.now && (unsettled(quality.current) || began > looked.current + LOOKS_EVERY);
    const measuring = looking && !quality.current.fixed;
    const frame: Frame = {
      gl,
      scene,
      camera,
      budget: still.current.now ? STILL.budget : light,
      nearer: still.current.now ? STILL.nearer : hurried.current && !planting ? 0 : 1,
      hurried: hurried.current,
      moving: moving.current,
      still: still.current.now,
      mirrors: still.current.now || quality.current.tier < LIGHT,
      blowing,
      invalidate: () => queueMicrotask(invalidate),
      copies: { inSight: 0, drawn: 0, shadows: 0 },
    };
    passes(frame);
    const { inSight, drawn } = frame.copies;
    if (measuring || hurried.current || complete !== whole.current) {
      // Reading a pixel waits until the frame is really drawn; done for a few frames only.
      const context = gl.getContext();
      context.readPixels(0, 0, 1, 1, context.RGBA, context.UNSIGNED_BYTE, new Uint8Array(4));
    }
    if (complete && !whole.current) {
      performance.mark("cenote-site-shown");
      queueMicrotask(() => set({ siteShown: true }));
    }
    whole.current = complete;
    if (hurried.current) {
      const wanted = pixels.current * Math.sqrt(HURRIED_FRAME / Math.max(1, performance.now() - began));
      const next = Math.min(1, Math.max(LEAST_PIXELS, 0.5 * (pixels.current + wanted)));
      if (Math.abs(next / pixels.current - 1) > 0.12) {
        pixels.current = next;
        // Not in the midst of drawing; the next frame of the drag has it.
        queueMicrotask(() => hurried.current && set({ sharpness: next }));
      }
    }
    if (measuring) {
      looked.current = began;
      const { tier } = quality.current;
      quality.current = afterFrame(quality.current, performance.now() - began);
      if (quality.current.tier !== tier || unsettled(quality.current)) invalidate();
    }
    performance.mark("cenote-frame");
    window.clearTimeout(still.current.timer);
    const later = () => {
      const { coming } = uniformsOf(scene).patches;
      // What is near comes before more of what grows.
      if (coming) return void coming.then(rest);
      still.current.now = true;
      invalidate();
    };
    const rest = () => {
      window.clearTimeout(still.current.timer);
      still.current.timer = window.setTimeout(later, STILL.after);
    };
    // There is more to show once all is still: of what grows, and what water mirrors.
    const more = drawn < inSight || uniformsOf(scene).water.bodies.size > 0;
    if (complete && more && quality.current.tier === LIGHT && !hurried.current && !still.current.now) rest();
    still.current.now = false;
    const economy =
      drawn < inSight && !hurried.current
        ? `Drawn lightly for this machine: ${drawn.toLocaleString("en-GB")} of ${inSight.toLocaleString("en-GB")} plants and stones in sight. All are counted and exported.`
        : "";
    if (economy !== said.current && !hurried.current) {
      said.current = economy;
      queueMicrotask(() => set({ economy }));
    }
  }, 1);
  return null;
}

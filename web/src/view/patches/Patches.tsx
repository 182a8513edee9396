import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { SceneManifest, SurfaceEntry } from "../../api/client";
import type { Pack } from "../../api/pack";
import { postPack } from "../../api/queries";
import { useSiteContext } from "../../site/context";
import { drawnByProcessor } from "../../site/machine";
import { useView } from "../../site/store";
import { useUniforms, type Uniforms } from "../uniforms";
import { PATCH_BYTES, patchArrays, putIn } from "./arrays";
import { type Drawn, Feedback } from "./feedback";
import { PATCH, type Patch, SIDE } from "./layout";
import { Rooms } from "./rooms";
import { tableOf, WIDE } from "./table";
import { wantedIn } from "./wanted";

/** Room for so many patches: 110 MB where the processor draws, 350 MB on a graphics card. */
const ROOM = drawnByProcessor ? 400 : 1200;
const ANISOTROPY = drawnByProcessor ? 1 : 8;
/** Milliseconds for which the same has been looked at: then the view is at rest. */
const REST = 300;
/** Patches that are asked for at a time: the first ones are there soon, and the rest makes few frames. */
const FIRST = 16;
const MOST = 64;

interface Told {
  patches: (Patch & { of: string })[];
}

/** What is missing in the order in which it is asked for: a few first, for these to be seen soon. */
function batchesOf(missing: Patch[]): Patch[][] {
  const out: Patch[][] = [];
  for (let first = 0, count = FIRST; first < missing.length; first += count, count = MOST)
    out.push(missing.slice(first, first + count));
  return out;
}

/** Brings what is seen to a texel a pixel once the view is at rest, near things first, in room that is fixed. */
export function Patches({ scene: manifest }: { scene: SceneManifest }) {
  const { siteId } = useSiteContext();
  const { gl, scene, camera, invalidate } = useThree();
  const uniforms = useUniforms();
  const asked = useMemo(
    () => new Asked(siteId, gl, scene, uniforms, invalidate),
    [siteId, gl, scene, uniforms, invalidate],
  );
  useEffect(() => () => asked.dispose(), [asked]);
  useEffect(() => {
    asked.surfaces = manifest.surfaces;
    asked.forgetOthers();
  }, [asked, manifest]);
  const cap = useView((state) => state.finest);
  useEffect(() => invalidate(), [cap, invalidate]);
  useFrame(() => asked.drawn(camera), 2);
  return null;
}

/** What of a view has been asked for, and what is there. */
class Asked {
  surfaces: SurfaceEntry[] = [];
  private rooms: Rooms;
  private feedback: Feedback;
  private timer = 0;
  private going: AbortController | null = null;
  private looked = "";
  private waiting = "";

  constructor(
    private siteId: string,
    private gl: THREE.WebGLRenderer,
    private scene: THREE.Scene,
    private uniforms: Uniforms,
    private invalidate: () => void,
  ) {
    this.feedback = new Feedback(gl, ANISOTROPY);
    const context = gl.getContext() as WebGL2RenderingContext;
    this.rooms = new Rooms(Math.min(ROOM, context.getParameter(context.MAX_ARRAY_TEXTURE_LAYERS) as number));
  }

  dispose() {
    this.uniforms.patches.coming = null;
    window.clearTimeout(this.timer);
    this.going?.abort();
    this.feedback.dispose();
    this.uniforms.patches.shared.patchBase.value?.dispose();
    this.uniforms.patches.shared.patchOrm.value?.dispose();
    this.uniforms.patches.shared.patchNormal.value?.dispose();
  }

  /** A frame was drawn: once the same has been looked at for a while, see what of it is missing. */
  drawn(camera: THREE.Camera) {
    const now = this.lookedAt(camera);
    if (now === this.looked || (now === this.waiting && this.timer)) return;
    window.clearTimeout(this.timer);
    this.waiting = now;
    this.timer = window.setTimeout(() => {
      this.timer = 0;
      void this.look(camera);
    }, REST);
  }

  /** What tells one look from another. */
  private lookedAt({ matrixWorld, projectionMatrix }: THREE.Camera): string {
    const { width, height } = this.gl.domElement;
    const compositions = this.surfaces.map(({ patches }) => patches.of);
    const { finest } = useView.getState();
    return [...matrixWorld.elements, ...projectionMatrix.elements, width, height, finest, ...compositions].join(" ");
  }

  /** Patches of what has changed go at once: the whole maps show what it is now. */
  forgetOthers() {
    for (const { id, patches } of this.surfaces) if (this.rooms.keepOnly(id, patches.of)) this.tell(id);
  }

  /** See what is looked at, and ask for what of it is not there. */
  async look(camera: THREE.Camera) {
    const { siteShown, draft, showing, peeking, finest } = useView.getState();
    if (!siteShown || draft || showing === "mask" || peeking || !finest) return;
    const now = this.lookedAt(camera);
    if (now === this.looked) return;
    this.looked = now;
    this.going?.abort();
    const going = (this.going = new AbortController());
    const { patches } = this.uniforms;
    const coming = this.bring(camera, going.signal)
      .catch((error: Error) => {
        // What could not be brought is asked for at the next rest.
        if (!going.signal.aborted) this.looked = "";
        if (error.name !== "AbortError") console.warn("patches:", error);
      })
      .finally(() => {
        if (patches.coming === coming) patches.coming = null;
      });
    patches.coming = coming;
    await coming;
  }

  /** Ask for what of a view is missing, and put it in its place. */
  private async bring(camera: THREE.Camera, signal: AbortSignal) {
    const { finest } = useView.getState();
    const drawn = this.surfacesDrawn();
    const places = await this.feedback.places(camera, drawn);
    if (signal.aborted) return;
    const entries = new Map(this.surfaces.map((one) => [one.id, one]));
    const finestOf = ({ id, layout }: { id: string; layout: SurfaceEntry["patches"] }) => {
      const cell = entries.get(id)!.texel * 2 ** layout.level;
      return Math.min(layout.finest, Math.round(Math.log2(cell / finest)));
    };
    const wanted = wantedIn(places, drawn, Math.floor(this.rooms.count * 0.9), finestOf);
    const missing = wanted.filter((patch) => !this.rooms.seen(patch, entries.get(patch.surface)!.patches.of));
    const levels = [...new Set(wanted.map(({ level }) => level))];
    performance.mark("cenote-patches", { detail: { wanted: wanted.length, missing: missing.length, levels } });
    const batches = batchesOf(missing);
    let coming = batches.length ? this.ask(batches[0], signal) : undefined;
    for (let at = 0; coming; at++) {
      const pack: Pack<Told> = await coming;
      // The next ones are composed while these are put in their place.
      coming = at + 1 < batches.length ? this.ask(batches[at + 1], signal) : undefined;
      coming?.catch(() => undefined);
      if (signal.aborted) return;
      this.put(pack);
      // Where a frame takes as long as all patches do, it is drawn once all are there.
      if (!drawnByProcessor || !coming) this.invalidate();
    }
    performance.mark("cenote-patches-there", {
      detail: {
        wanted: wanted.length,
        texels: wanted.length * PATCH ** 2,
        bytes: this.rooms.count * PATCH_BYTES,
      },
    });
  }

  private surfacesDrawn(): Drawn[] {
    const meshes = new Map<string, THREE.Mesh>();
    this.scene.traverse((one) => one.userData.surface && meshes.set(one.userData.surface as string, one as THREE.Mesh));
    return this.surfaces.flatMap(({ id, patches }) => {
      const mesh = meshes.get(id);
      return mesh && patches.of ? [{ id, mesh, layout: patches }] : [];
    });
  }

  private ask(some: Patch[], signal: AbortSignal) {
    return postPack<Told>(`/api/sites/${this.siteId}/patches`, { patches: some }, signal);
  }

  private put(pack: Pack<Told>) {
    const arrays = this.arrays();
    const touched = new Set<string>();
    pack.meta.patches.forEach(({ of, ...patch }, row) => {
      // What was composed of something else by now is not what is shown.
      if (this.surfaces.find(({ id }) => id === patch.surface)?.patches.of !== of) return;
      const { layer, gone } = this.rooms.take(patch, of);
      for (const name of ["base", "orm", "normal"] as const) {
        const size = SIDE * SIDE * 4;
        putIn(
          this.gl,
          arrays[name],
          layer,
          (pack.arrays[name].data as Uint8Array).subarray(row * size, (row + 1) * size),
        );
      }
      touched.add(patch.surface);
      if (gone) touched.add(gone.patch.surface);
    });
    touched.forEach((id) => this.tell(id));
  }

  private arrays() {
    const { shared } = this.uniforms.patches;
    if (!shared.patchBase.value) {
      const made = patchArrays(this.rooms.count, Math.min(ANISOTROPY, this.gl.capabilities.getMaxAnisotropy()));
      shared.patchBase.value = made.base;
      shared.patchOrm.value = made.orm;
      shared.patchNormal.value = made.normal;
      shared.patchAnisotropy.value = made.base.anisotropy;
    }
    return { base: shared.patchBase.value!, orm: shared.patchOrm.value!, normal: shared.patchNormal.value! };
  }

  /** Tell a surface's material which of its patches are there. */
  private tell(id: string) {
    const own = this.uniforms.patches.surfaces.get(id);
    const layout = this.surfaces.find((one) => one.id === id)?.patches;
    if (!own || !layout) return;
    const held = this.rooms.of(id);
    const { data, level, columns } = tableOf(layout, held);
    const table = new THREE.DataTexture(data, WIDE, data.length / (4 * WIDE));
    table.needsUpdate = true;
    own.patchTable.value.dispose();
    own.patchTable.value = table;
    own.patchLayout.value.set(layout.columns, layout.rows, PATCH / 2 ** level, held.length ? columns : 0);
  }
}

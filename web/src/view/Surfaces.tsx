import { useThree } from "@react-three/fiber";
import { memo, useEffect, useMemo, useRef } from "react";
import * as THREE from "three";
import { acceleratedRaycast, computeBoundsTree, disposeBoundsTree } from "three-mesh-bvh";
import type { SceneManifest, SurfaceEntry } from "../api/client";
import type { Pack } from "../api/pack";
import { usePack } from "../api/queries";
import { decalAt } from "../site/decalBox";
import { useSiteContext } from "../site/context";
import { handBusy, useView } from "../site/store";
import { drawnByProcessor } from "../site/machine";
import { type Picture, usePreview } from "./preview";
import { noPatches, type PatchUniforms } from "./patches/sampling";
import { shaded, type SurfaceTextures } from "./shading";
import { textureOf } from "./textures";
import { useUniforms } from "./uniforms";

THREE.Mesh.prototype.raycast = acceleratedRaycast;
THREE.BufferGeometry.prototype.computeBoundsTree = computeBoundsTree as never;
THREE.BufferGeometry.prototype.disposeBoundsTree = disposeBoundsTree;

const NO_MASK = new THREE.Color(0.09, 0.09, 0.1);

/** Whether maps of one mesh lie right on another: it is the same shape in another place. */
function sameShape(mesh: string, surface: SurfaceEntry): boolean {
  return mesh === surface.mesh || shapes.get(mesh) === shapeOf(surface);
}

const shapes = new Map<string, string>();

/** What tells shapes apart well enough for a moment: triangles, area, layout and extent. */
function shapeOf({ mesh, id, triangles, area, cells, low, high }: SurfaceEntry): string {
  const shape = [id, triangles, area.toFixed(4), cells, ...low, ...high].join(" ");
  shapes.set(mesh, shape);
  return shape;
}

/** Grey bytes as RGBA, for showing. */
function greyToColour({ data, width, height }: Picture): Picture {
  const out = new Uint8Array(data.length * 4);
  for (let i = 0; i < data.length; i++) {
    out[i * 4] = out[i * 4 + 1] = out[i * 4 + 2] = data[i];
    out[i * 4 + 3] = 255;
  }
  return { data: out, width, height };
}

/** A texture of a picture that is replaced often; disposed of with it. */
function usePictureTexture(picture: Picture | null): THREE.DataTexture | null {
  const texture = useMemo(() => {
    if (!picture) return null;
    const made = textureOf({ data: picture.data, shape: [picture.height, picture.width] }, { colour: true });
    made.generateMipmaps = false;
    made.minFilter = THREE.LinearFilter;
    return made;
  }, [picture]);
  useEffect(() => () => texture?.dispose(), [texture]);
  return texture;
}

/** What tells a surface's material where its patches lie, for as long as it is drawn. */
function usePatches(id: string): PatchUniforms {
  const { surfaces } = useUniforms().patches;
  const own = useMemo(noPatches, []);
  useEffect(() => {
    surfaces.set(id, own);
    return () => {
      own.patchTable.value.dispose();
      surfaces.delete(id);
    };
  }, [surfaces, id, own]);
  return own;
}

/** The composed maps of a surface as textures; disposed of with them. */
function useMapTextures(maps: Pack | undefined): SurfaceTextures | null {
  const textures = useMemo(() => {
    if (!maps) return null;
    const { base, orm, normal } = maps.arrays;
    return { base: textureOf(base, { colour: true }), orm: textureOf(orm), normal: textureOf(normal) };
  }, [maps]);
  useEffect(() => () => Object.values(textures ?? {}).forEach((texture) => texture.dispose()), [textures]);
  return textures;
}

/** All surfaces of a scene. */
export function Surfaces({ scene, texel }: { scene: SceneManifest; texel: number }) {
  return scene.surfaces.map((surface) => <SurfaceMesh key={surface.id} surface={surface} texel={texel} />);
}

const SurfaceMesh = memo(function SurfaceMesh({ surface, texel }: { surface: SurfaceEntry; texel: number }) {
  const { siteId, editor } = useSiteContext();
  const uniforms = useUniforms();
  const invalidate = useThree((state) => state.invalidate);
  const gl = useThree((state) => state.gl);
  const showing = useView((state) => (state.peeking ? "mask" : state.showing));
  const pick = useView((state) => state.pick);
  const base = usePreview((state) => state.bases[surface.id]);
  const masks = usePreview((state) => state.masks);
  const address = `/api/sites/${siteId}/surfaces/${surface.id}`;
  const mesh = usePack(`${address}/mesh?key=${surface.mesh}`);
  const siteShown = useView((state) => state.siteShown);
  // First the coarse maps, which are there at once; the wanted ones take their place when all is seen.
  const coarse = usePack(surface.coarse ? `${address}/maps?key=${surface.coarse}&texel=coarsest` : null);
  const fine = usePack(surface.maps && siteShown ? `${address}/maps?key=${surface.maps}&texel=${texel}` : null);
  // What it looks like without weather, where the view is parted and that is something else.
  const parts = useView((state) => state.parted !== null);
  const bare = usePack(
    parts && surface.maps && surface.bare !== surface.maps
      ? `${address}/maps?key=${surface.bare}&texel=${texel}&bare=true`
      : null,
  ).data;
  // While it is measured anew it keeps the maps it had, as long as they fit its shape.
  const last = useRef<{ mesh: string; data: typeof coarse.data } | null>(null);
  const found = fine.data ?? coarse.data;
  shapeOf(surface);
  if (found && surface.maps) last.current = { mesh: surface.mesh, data: found };
  const kept = !surface.maps && last.current && sameShape(last.current.mesh, surface) ? last.current.data : undefined;
  const maps = found ?? kept;

  const geometry = useMemo(() => {
    if (!mesh.data) return null;
    const made = new THREE.BufferGeometry();
    for (const [name, width] of [
      ["position", 3],
      ["normal", 3],
      ["tangent", 4],
      ["uv", 2],
    ] as const)
      made.setAttribute(name, new THREE.BufferAttribute(mesh.data.arrays[name].data, width));
    const { glow } = mesh.data.arrays;
    if (glow) made.setAttribute("glow", new THREE.BufferAttribute(glow.data, 1));
    made.setIndex(new THREE.BufferAttribute(mesh.data.arrays.index.data, 1));
    made.computeBoundingSphere();
    made.computeBoundsTree();
    gl.shadowMap.needsUpdate = true;
    return made;
  }, [mesh.data, gl]);

  const textures = useMapTextures(maps);
  const bareTextures = useMapTextures(parts ? bare : undefined);
  const { glows } = surface;
  const patches = usePatches(surface.id);
  // Whoever never looks from near need not pay for it at each frame.
  const near = useView((state) => state.finest > 0);
  const shading = useMemo(
    () => shaded(uniforms, { glows, mirrors: drawnByProcessor, bare: bareTextures, patches: near ? patches : null }),
    [uniforms, glows, bareTextures, near, patches],
  );

  const flatShading = useMemo(
    () =>
      shaded(uniforms, { glows: false, mirrors: drawnByProcessor, bare: bareTextures, patches: near ? patches : null }),
    [uniforms, bareTextures, near, patches],
  );

  const live = usePictureTexture(base ?? null);
  // What is only tried is shown by the coarse picture alone.
  patches.patchShown.value = live ? 0 : 1;
  const mask = masks?.[surface.id];
  const maskTexture = usePictureTexture(useMemo(() => (mask ? greyToColour(mask) : null), [mask]));

  useEffect(() => () => geometry?.dispose(), [geometry]);
  useEffect(() => invalidate(), [geometry, textures, bareTextures, live, maskTexture, showing, masks, invalidate]);

  const matrix = useMemo(
    () => new THREE.Matrix4().set(...(surface.matrix as Parameters<THREE.Matrix4["set"]>)),
    [surface.matrix],
  );
  // Nothing is drawn bare for a moment only: each way of drawing costs a slow machine a second to prepare.
  if (!geometry || (!textures && surface.coarse)) return null;
  const asMask = showing === "mask" && masks;
  return (
    <mesh
      geometry={geometry}
      matrix={matrix}
      matrixAutoUpdate={false}
      castShadow
      receiveShadow
      name={surface.id}
      userData={{ surface: surface.id, dressed: textures !== null }}
      onClick={(event) => {
        if (event.delta > 4) return;
        const { structures } = editor.state()!.document;
        // What is locked lets the pointer through to what lies behind it.
        if (handBusy(useView.getState()) || structures.find((one) => one.id === surface.id)?.locked) return;
        event.stopPropagation();
        const { picked } = useView.getState();
        const again =
          picked?.part === (surface.id === "ground" ? "ground" : "structures") &&
          (picked.id ?? "ground") === surface.id;
        // What lies on an object is picked by a second press on it.
        const decal =
          again && !event.nativeEvent.shiftKey ? decalAt(editor.state()!.document, event.point, surface.id) : null;
        if (decal) pick({ part: "decals", id: decal.id });
        else
          pick(
            surface.id === "ground" ? { part: "ground" } : { part: "structures", id: surface.id },
            event.nativeEvent.shiftKey,
          );
      }}
    >
      {asMask ? (
        <meshBasicMaterial
          key={maskTexture ? "mask" : "none"}
          map={maskTexture}
          color={maskTexture ? "white" : NO_MASK}
          toneMapped={false}
        />
      ) : showing === "flat" ? (
        <meshBasicMaterial
          key={`${textures ? "flat" : "bare"} ${flatShading.name} ${bareTextures?.base.uuid ?? ""}`}
          onBeforeCompile={flatShading.compile}
          customProgramCacheKey={() => flatShading.name}
          map={live ?? textures?.base ?? null}
          toneMapped={false}
        />
      ) : (
        <meshStandardMaterial
          key={`${textures ? "lit" : "bare"} ${shading.name} ${bareTextures?.base.uuid ?? ""}`}
          onBeforeCompile={shading.compile}
          customProgramCacheKey={() => shading.name}
          map={live ?? textures?.base ?? null}
          normalMap={textures?.normal ?? null}
          roughnessMap={textures?.orm ?? null}
          metalnessMap={textures?.orm ?? null}
          aoMap={textures?.orm ?? null}
          color={textures || live ? "white" : "#9c9890"}
          roughness={1}
          metalness={textures ? 1 : 0}
        />
      )}
    </mesh>
  );
});
